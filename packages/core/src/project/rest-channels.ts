import type { Channels } from './fields.ts';

/** Channels of an object that nothing has moved. */
export const REST_CHANNELS: Channels = {
  translate: [0, 0, 0],
  rotate: [0, 0, 0],
  order: 'xyz',
  scale: [1, 1, 1],
};
