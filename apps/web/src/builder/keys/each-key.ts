import type { Key, KeyTrack } from '@umberfish/core';

/** A change of a track that changes each of its chosen keys by itself. */
export const eachKey =
  (of: (key: Key) => Partial<Key>) =>
  (track: KeyTrack, frames: readonly number[]): KeyTrack => ({
    ...track,
    keys: track.keys.map((k) => (frames.includes(k.frame) ? { ...k, ...of(k) } : k)),
  });
