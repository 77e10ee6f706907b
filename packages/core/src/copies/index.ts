export * from './copies.ts';
export * from './join-copies.ts';
export * from './scatter.ts';
