import { trackOf, withKey, type Animated, type KeyTrack } from '@umberfish/core';

/** Smooth keys: frame and value, in order. */
export function keys(...pairs: readonly (readonly [number, number])[]): Animated {
  let track: KeyTrack | undefined;
  for (const [frame, value] of pairs) track = withKey(track, frame, value);
  return { keys: track ?? trackOf([]) };
}
