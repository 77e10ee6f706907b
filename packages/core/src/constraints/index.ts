export * from './constraints.ts';
export * from './limits.ts';
