import { beyondReach } from '../../falloffs/beyond.ts';
import type { Falloff } from '../../falloffs/falloff.ts';
import type { InputPort } from './definition.ts';
import type { Problem } from './problems.ts';

/** A falloff, and the points that it was weighed on. */
export interface Weighed {
  readonly falloff: Falloff;
  readonly points: Readonly<Float32Array>;
}

/**
 * What is to be said where a weight is 0 at every point, so that a node changes nothing: nobody sees from the mesh whether
 * the falloff is elsewhere or the deformer is broken.
 * @param weights one for each point, or face
 */
export function noWeight(
  port: InputPort,
  weights: Readonly<Float32Array>,
  weighed?: Weighed,
  on: 'point' | 'face' = 'point',
): Problem | undefined {
  if (!port.isEffect || weights.length === 0) return undefined;
  for (let i = 0; i < weights.length; i++) if (weights[i] !== 0) return undefined;
  const beyond = weighed && beyondReach(weighed.falloff, weighed.points);
  return { code: 'no-weight', port: port.label, count: weights.length, on, beyond, severity: 'note' };
}
