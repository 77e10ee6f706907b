import { normalsOf } from '../../geometry/derived.ts';
import { withPositions, type Mesh } from '../../geometry/mesh.ts';
import { tellFinite } from '../../maths/finite.ts';
import type { InputPort, LaneView, NodeContext } from '../../graph/node/definition.ts';
import { meshValue, type Value } from '../../graph/node/values.ts';

/** Which way points are pushed: a direction, or along their normals when it is left open. */
export const DIRECTION_IN: InputPort = {
  id: 'direction',
  label: 'direction',
  kind: 'vector',
  optional: true,
  help: 'Which way, one for all or one each; its length counts, so that twice as long pushes twice as far. Left open, along the normals, which are 1 long.',
};

/** Points moved by an amount each (metres) along their normals, or along the direction, under the weight. */
export function pushOut(context: NodeContext, mesh: Mesh, amounts: LaneView): { mesh: Value } {
  const count = mesh.topology.pointCount;
  const given = context.input('direction');
  const along = given
    ? context.view('direction', 'vector', count)
    : { data: normalsOf(mesh, 'angle', context.checkpoint), step: 3 };
  const weight = context.view('weight', 'number', count);
  const p = mesh.positions;
  const out = context.floats(p.length);
  pushPoints(out, p, along, amounts, weight);
  return { mesh: meshValue(withPositions(mesh, out)) };
}

function pushPoints(out: Float32Array, p: Readonly<Float32Array>, along: LaneView, amounts: LaneView, weight: LaneView): void {
  const { data: d, step } = along;
  const { data: a, step: aStep } = amounts;
  const { data: w, step: wStep } = weight;
  let size = 0;
  for (let i = 0, o = 0, k = 0; o < out.length; i++, o += 3, k += step) {
    const by = a[i * aStep] * w[i * wStep];
    const x = p[o] + d[k] * by;
    const y = p[o + 1] + d[k + 1] * by;
    const z = p[o + 2] + d[k + 2] * by;
    out[o] = x;
    out[o + 1] = y;
    out[o + 2] = z;
    size += Math.abs(x) + Math.abs(y) + Math.abs(z);
  }
  tellFinite(out, size);
}
