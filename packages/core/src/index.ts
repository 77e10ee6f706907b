export * from './maths/index.ts';
export * from './geometry/index.ts';
export * from './expression/index.ts';
export * from './graph/index.ts';
export * from './scene/world.ts';
export * from './project/index.ts';
export * from './hash.ts';
export * from './memo.ts';
export { NODES, NODES_BY_ID, SHOWN_PORT } from './nodes/index.ts';
