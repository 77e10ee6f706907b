export * from './vector.ts';
export * from './rotation.ts';
export * from './matrix.ts';
export * from './noise.ts';
export * from './random.ts';
export * from './response.ts';
export * from './gradient.ts';
export * from './finite.ts';
