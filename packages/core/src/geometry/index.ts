export * from './attributes.ts';
export * from './mesh.ts';
export * from './edges.ts';
export * from './triangles.ts';
export * from './normals.ts';
export * from './shading.ts';
export * from './bounds.ts';
export * from './primitives.ts';
