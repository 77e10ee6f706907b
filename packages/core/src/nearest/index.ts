export * from './spatial-index.ts';
export * from './shared.ts';
export * from './signed.ts';
export * from './ray.ts';
