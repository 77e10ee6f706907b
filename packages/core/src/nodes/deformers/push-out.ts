import { pointNormals } from '../../geometry/normals.ts';
import { withPositions, type Mesh } from '../../geometry/mesh.ts';
import type { InputPort, NodeContext } from '../../graph/node/definition.ts';
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
export function pushOut(context: NodeContext, mesh: Mesh, amounts: Readonly<Float32Array>): { mesh: Value } {
  const count = mesh.topology.pointCount;
  const given = context.input('direction');
  const along = given ? context.lane('direction', 'vector', count) : pointNormals(mesh);
  const weight = context.lane('weight', 'number', count);
  const p = mesh.positions;
  const out = context.floats(p.length);
  for (let i = 0, o = 0; i < count; i++, o += 3) {
    const by = amounts[i] * weight[i];
    out[o] = p[o] + along[o] * by;
    out[o + 1] = p[o + 1] + along[o + 1] * by;
    out[o + 2] = p[o + 2] + along[o + 2] * by;
  }
  return { mesh: meshValue(withPositions(mesh, out)) };
}
