export * from './bake.ts';
export * from './bake-result.ts';
export * from './bake-objects.ts';
