export * from './copies.ts';
export * from './scatter.ts';
