import {
  eulerFromRotation,
  quaternionFromEuler,
  RADIANS_PER_DEGREE,
  rotationFromQuaternion,
  slerp,
  type RotationOrder,
} from '../maths/rotation.ts';
import type { Vec3 } from '../maths/vector.ts';
import type { DialValue, PoseValues } from '../project/animation.ts';
import type { Project } from '../project/schema.ts';
import { unrolled } from '../scene/keep-pose.ts';
import { objectsById } from '../scene/objects.ts';

const TURNS = ['rotate.x', 'rotate.y', 'rotate.z'] as const;

/**
 * The way from one pose to another: at 0 the first, at 1 the second, both to the bit; between them and beyond, numbers go
 * straight and turns the short way (by quaternions, `slerp`). What only the second has is as it is there from 1 on, and
 * left out before.
 * @param from has the numbers as they are now
 */
export function blendPoses(project: Project, from: PoseValues, to: PoseValues, amount: number): PoseValues {
  if (amount === 0) return from;
  if (amount === 1) return to;
  const known = objectsById(project.objects);
  const objects = Object.fromEntries(
    Object.entries(to.objects).map(([id, target]) => {
      const start = from.objects[id] ?? {};
      const blended: Record<string, number> = {};
      for (const [channel, value] of Object.entries(target)) {
        const begin = start[channel] as number | undefined;
        if (begin !== undefined) blended[channel] = begin === value ? value : begin + (value - begin) * amount;
      }
      const order = known.get(id)?.channels.order ?? 'xyz';
      return [id, { ...blended, ...blendTurns(start, target, order, amount) }];
    }),
  );
  const dials = Object.fromEntries(
    Object.entries(to.dials).map(([id, target]) => [
      id,
      Object.fromEntries(
        Object.entries(target).flatMap(([port, value]) => {
          const begin = from.dials[id]?.[port] as DialValue | undefined;
          return begin === undefined ? [] : [[port, blendDial(begin, value, amount)] as const];
        }),
      ),
    ]),
  );
  return { objects, dials };
}

/**
 * The turns on the way, nearest to those it goes between; nothing where not all three are known, since a rotation cannot be
 * blended by a part of it: those go straight.
 */
function blendTurns(
  from: Readonly<Record<string, number>>,
  to: Readonly<Record<string, number>>,
  order: RotationOrder,
  amount: number,
): Record<string, number> {
  if (!TURNS.every((t) => t in to && t in from)) return {};
  const start = TURNS.map((t) => from[t]) as unknown as Vec3;
  const end = TURNS.map((t) => to[t]) as unknown as Vec3;
  const changing = end.filter((v, i) => v !== start[i]).length;
  // About one axis the number itself goes the short way.
  if (changing < 2 && end.every((v, i) => Math.abs(v - start[i]) <= 180)) return {};
  const [a, b] = [start, end].map((v) => quaternionFromEuler(v.map((d) => d * RADIANS_PER_DEGREE) as unknown as Vec3, order));
  const angles = eulerFromRotation(rotationFromQuaternion(slerp(a, b, amount)), order);
  const near = start.map((v, i) => v + (end[i] - v) * amount) as unknown as Vec3;
  const turned = unrolled(angles.map((r) => r / RADIANS_PER_DEGREE) as unknown as Vec3, near, order);
  return Object.fromEntries(TURNS.map((t, i) => [t, turned[i]]));
}

function blendDial(from: DialValue, to: DialValue, amount: number): DialValue {
  if (typeof from === 'number' && typeof to === 'number') return from + (to - from) * amount;
  if (Array.isArray(from) && Array.isArray(to))
    return to.map((v, i) => (from[i] as number) + (v - (from[i] as number)) * amount) as unknown as DialValue;
  return amount < 0.5 ? from : to;
}
