export * from './aim.ts';
export * from './constraints.ts';
export * from './limits.ts';
