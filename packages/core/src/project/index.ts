export * from './fields.ts';
export * from './rest-channels.ts';
export * from './kinds/index.ts';
export * from './schema.ts';
export * from './modules.ts';
export * from './migrations.ts';
export * from './file.ts';
export * from './difference.ts';
