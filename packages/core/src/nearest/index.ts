export * from './spatial-index.ts';
