import { numberWithin } from '../within.ts';
import type { NodeContext, NodeDefinition } from '../../graph/node/definition.ts';
import { valuesLike, type Column, type Single, type Value } from '../../graph/node/values.ts';
import { normalsOf } from '../../geometry/derived.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { cornersOf, indexOf, isClosed, makeSign, type NearestOn } from '../../nearest/index.ts';
import { trianglesOf } from '../../geometry/triangles.ts';
import { choiceSetting, numberPort, POSITIONS_IN, text } from '../ports.ts';
import { needTarget, ON, onOf, TARGET_IN } from './target.ts';

export const nearest: NodeDefinition = {
  id: 'nearest',
  version: 1,
  title: 'Nearest',
  group: 'Proximity',
  summary: 'Finds for each position the nearest place on a mesh: how far, where, facing which way.',
  keywords: ['closest', 'distance', 'proximity', 'snap', 'inside', 'signed'],
  inputs: () => [
    POSITIONS_IN,
    TARGET_IN,
    numberPort(
      'within',
      'within',
      'm',
      0,
      [0, 10],
      'Search no further than this; 0 searches everywhere. What finds nothing keeps its own place, at the distance searched.',
    ),
  ],
  outputs: () => [
    { id: 'distance', label: 'distance', kind: 'number', unit: 'm', help: 'How far the nearest place is.' },
    {
      id: 'signed',
      label: 'signed distance',
      kind: 'number',
      unit: 'm',
      help: 'Negative inside a closed mesh; on faces only.',
    },
    { id: 'position', label: 'position', kind: 'vector', unit: 'm', help: 'The nearest place.' },
    { id: 'normal', label: 'normal', kind: 'vector', help: 'The direction the surface faces there.' },
    {
      id: 'index',
      label: 'index',
      kind: 'integer',
      help: 'The number of the point, edge or face; −1 for none.',
    },
    {
      id: 'weights',
      label: 'weights',
      kind: 'vector',
      help: 'How much each corner of the triangle (or end of the edge) counts there.',
    },
  ],
  settings: [
    ON,
    choiceSetting(
      'normals',
      'Normals',
      [
        ['smooth', 'Smooth'],
        ['face', 'Of the face'],
      ],
      'Smooth mixes the normals of the corners; of the face is flat.',
    ),
  ],
  sentence: (s) => `on ${text(s, 'on')}`,
  evaluate: (context) => {
    const on = onOf(context.settings);
    const mesh = needTarget(context, on);
    return searchAll(context, mesh, on);
  },
};

/** One query per position; results are as many and on the same elements. */
function searchAll(context: NodeContext, mesh: Mesh, on: NearestOn): Record<string, Value> {
  const from = context.input('positions') as Single | Column;
  const count = from.form === 'column' ? from.count : 1;
  const places = context.lane('positions', 'vector', count);
  const index = indexOf(mesh, on);
  const corners = cornersOf(mesh.topology, on);
  const size = on === 'points' ? 1 : on === 'edges' ? 2 : 3;
  const typed = numberWithin(context, 'within', 0);
  const within = typed > 0 ? typed : Infinity;
  const wantsSign = context.wants('signed');
  const sign = wantsSign && on === 'faces' && isClosed(mesh) ? makeSign(mesh, index) : undefined;
  const about = ['signed'];
  if (wantsSign && !sign)
    context.report(
      on === 'faces'
        ? { code: 'not-closed', what: 'The target', severity: 'warning', about }
        : { code: 'sign-needs-faces', on: on === 'edges' ? 'edge' : 'point', severity: 'warning', about },
    );
  const normals = context.wants('normal') ? normalsOf(mesh) : undefined;
  const flat = context.settings.normals === 'face';
  const faces = on === 'faces' ? trianglesOf(mesh.topology).faces : undefined;
  const distance = context.floats(count);
  const signed = context.floats(count);
  const position = context.floats(count * 3);
  const normal = context.floats(count * 3);
  const numbers = context.integers(count);
  const weights = context.floats(count * 3);
  const p = mesh.positions;
  let last = -1;
  for (let i = 0, o = 0; i < count; i++, o += 3) {
    if ((i & 1023) === 0) context.checkpoint();
    const x = places[o],
      y = places[o + 1],
      z = places[o + 2];
    const found = index.nearest(x, y, z, within, last);
    last = found;
    numbers[i] = found;
    if (found < 0) {
      distance[i] = signed[i] = within;
      position[o] = x;
      position[o + 1] = y;
      position[o + 2] = z;
      continue;
    }
    const d = Math.sqrt(index.distanceSquared);
    const wb = index.weightB,
      wc = index.weightC,
      wa = 1 - wb - wc;
    const a = (corners ? corners[found * size] : found) * 3;
    const b = size > 1 && corners ? corners[found * size + 1] * 3 : a;
    const c = size > 2 && corners ? corners[found * size + 2] * 3 : a;
    distance[i] = d;
    signed[i] = sign ? d * sign(found, x, y, z) : d;
    weights[o] = wa;
    weights[o + 1] = wb;
    weights[o + 2] = wc;
    for (let axis = 0; axis < 3; axis++) {
      position[o + axis] = p[a + axis] * wa + p[b + axis] * wb + p[c + axis] * wc;
      if (normals) normal[o + axis] = normals[a + axis] * wa + normals[b + axis] * wb + normals[c + axis] * wc;
    }
    if (normals && flat && size === 3) faceNormal(normal, o, p, a, b, c);
    else if (normals) unit(normal, o);
    if (faces) numbers[i] = faces[found];
  }
  return {
    distance: valuesLike(from, 'number', distance),
    signed: valuesLike(from, 'number', signed),
    position: valuesLike(from, 'vector', position, 'position'),
    normal: valuesLike(from, 'vector', normal, 'normal'),
    index: valuesLike(from, 'integer', numbers),
    weights: valuesLike(from, 'vector', weights),
  };
}

function unit(v: Float32Array, o: number): void {
  const l = Math.hypot(v[o], v[o + 1], v[o + 2]);
  if (l > 0) for (let axis = 0; axis < 3; axis++) v[o + axis] /= l;
}

/** The unit normal of a triangle, from three places in packed positions. */
export function faceNormal(out: Float32Array, o: number, p: Readonly<Float32Array>, a: number, b: number, c: number): void {
  const ux = p[b] - p[a],
    uy = p[b + 1] - p[a + 1],
    uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a],
    vy = p[c + 1] - p[a + 1],
    vz = p[c + 2] - p[a + 2];
  out[o] = uy * vz - uz * vy;
  out[o + 1] = uz * vx - ux * vz;
  out[o + 2] = ux * vy - uy * vx;
  unit(out, o);
}
