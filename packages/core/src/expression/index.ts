export * from './parse.ts';
export * from './evaluate.ts';
