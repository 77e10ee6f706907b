export * from './imported.ts';
export * from './import.ts';
export * from './obj-read.ts';
export * from './obj-write.ts';
export * from './gltf-read.ts';
export * from './gltf-write.ts';
export * from './csv.ts';
