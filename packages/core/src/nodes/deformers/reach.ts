import type { OutputPort } from '../../graph/node/definition.ts';
import { falloffValue, type Value } from '../../graph/node/values.ts';
import { identity } from '../../maths/matrix.ts';

/** How far a deformer reaches, as a falloff: the stage draws it, and others may end where it does. */
export const REACH_OUT: OutputPort = {
  id: 'within',
  label: 'reach',
  kind: 'falloff',
  help: 'Full in the middle and nothing where it ends, evenly between.',
};

/** A ball round a place in the world, as a falloff; nothing where it has no size. @param radius metres */
export function reachValue(centre: ArrayLike<number>, radius: number): Value {
  const [x, y, z] = [centre[0], centre[1], centre[2]];
  if (!(radius > 0 && Number.isFinite(radius + x + y + z))) return falloffValue({ type: 'flat', weight: 0 });
  const world = identity();
  const inverse = identity();
  for (const [axis, at] of [x, y, z].entries()) {
    world[12 + axis] = at;
    inverse[12 + axis] = -at;
  }
  return falloffValue({
    type: 'shape',
    shape: 'sphere',
    rounding: 0,
    world,
    inverse,
    fade: { inner: 0, outer: radius, invert: false },
  });
}
