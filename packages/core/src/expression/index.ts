export * from './functions.ts';
export * from './parse.ts';
export * from './evaluate.ts';
export * from './formula.ts';
export * from './program.ts';
export { FORMULA_FUNCTIONS } from './lower.ts';
export { makeProgramRunner, type ProgramOutput } from './machine.ts';
