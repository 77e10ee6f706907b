import type { ElementPlan, LaneKind } from '../../graph/node/definition.ts';
import type { ElementKind } from '../../graph/node/values.ts';

/** Number of Float32 values per element of a lane. */
export const LANE_WIDTH: Record<LaneKind, 1 | 3> = { number: 1, vector: 3 };

/** `vector` when any of the ports carries vectors, else `number`. */
export function widest(kinds: Readonly<Record<string, ElementKind>>, ports: readonly string[]): LaneKind {
  return ports.some((p) => kinds[p] === 'vector') ? 'vector' : 'number';
}

/** A plan whose inputs and one output are all of the same lane kind. */
export function alike(ports: readonly string[], lane: LaneKind, output = 'result'): ElementPlan {
  return { inputs: ports.map((port) => ({ port, lane })), outputs: [{ port: output, lane }] };
}
