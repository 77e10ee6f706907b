export * from './functions.ts';
export * from './parse.ts';
export * from './evaluate.ts';
export * from './formula.ts';
export * from './program.ts';
export {
  crossOf,
  dotOf,
  eachAxis,
  FORMULA_FUNCTIONS,
  lengthOf,
  lowerOperator,
  type FormulaValue,
  type OperationCode,
} from './lower.ts';
export { makeProgramRunner, runPlainly, type ProgramOutput, type ProgramRunner } from './machine.ts';
