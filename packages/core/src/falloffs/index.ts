export * from './falloff.ts';
export * from './gauge.ts';
export * from './weigh.ts';
export * from './outline.ts';
