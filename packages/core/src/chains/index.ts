export * from './chain.ts';
export * from './skin-weights.ts';
export * from './skin.ts';
export * from './readout.ts';
