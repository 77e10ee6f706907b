export * from './curves.ts';
export * from './track.ts';
export * from './nearest-on.ts';
export * from './frames.ts';
export * from './lay.ts';
export * from './sweep.ts';
export * from './respace.ts';
export * from './edit-record.ts';
