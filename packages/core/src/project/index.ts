export * from './schema.ts';
export * from './migrations.ts';
export * from './file.ts';
export * from './difference.ts';
