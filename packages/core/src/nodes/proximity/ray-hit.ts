import { numberWithin } from '../within.ts';
import { trianglesOf } from '../../geometry/triangles.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { valuesLike, type Column, type Single } from '../../graph/node/values.ts';
import { indexOf, rayHit as hitBy } from '../../nearest/index.ts';
import { numberPort, toggleSetting, yes } from '../ports.ts';
import { faceNormal } from './nearest.ts';
import { needTarget, TARGET_IN } from './target.ts';

export const rayHit: NodeDefinition = {
  id: 'ray-hit',
  version: 1,
  title: 'Ray Hit',
  group: 'Proximity',
  summary: 'Sends a ray from each position and tells where it meets a mesh.',
  keywords: ['cast', 'project', 'intersect', 'shoot', 'drop'],
  inputs: () => [
    {
      id: 'positions',
      label: 'positions',
      kind: 'vector',
      unit: 'm',
      help: 'Where the rays begin: one place or a column.',
    },
    {
      id: 'direction',
      label: 'direction',
      kind: 'vector',
      default: [0, -1, 0],
      range: { min: -1, max: 1 },
      help: 'Where they go: one for all, or one each.',
    },
    TARGET_IN,
    numberPort('longest', 'longest', 'm', 0, [0, 100], 'Rays end after this; 0 has no end.'),
  ],
  outputs: () => [
    { id: 'hit', label: 'hit', kind: 'toggle', help: 'Whether the ray met the mesh.' },
    {
      id: 'distance',
      label: 'distance',
      kind: 'number',
      unit: 'm',
      help: 'How far it went: to the hit, or its longest (0 without an end).',
    },
    {
      id: 'position',
      label: 'position',
      kind: 'vector',
      unit: 'm',
      help: 'Where it hit; its own beginning if it did not.',
    },
    { id: 'normal', label: 'normal', kind: 'vector', help: 'The direction the face faces there.' },
    { id: 'face', label: 'face', kind: 'integer', help: 'The number of the face; −1 for none.' },
  ],
  settings: [toggleSetting('both', 'Both sides', true, 'Also meet faces from behind.')],
  sentence: (s) => (yes(s, 'both') ? 'both sides' : 'front sides only'),
  evaluate(context) {
    const mesh = needTarget(context, 'faces');
    const from = context.input('positions') as Single | Column;
    const count = from.form === 'column' ? from.count : 1;
    const places = context.lane('positions', 'vector', count);
    const directions = context.lane('direction', 'vector', count);
    const index = indexOf(mesh, 'faces');
    const { points, faces } = trianglesOf(mesh.topology);
    const typed = numberWithin(context, 'longest', 0);
    const longest = typed > 0 ? typed : Infinity;
    const sides = yes(context.settings, 'both') ? 'both' : 'front';
    const hit = context.integers(count);
    const distance = context.floats(count);
    const position = context.floats(count * 3);
    const normal = context.floats(count * 3);
    const face = context.integers(count).fill(-1);
    for (let i = 0, o = 0; i < count; i++, o += 3) {
      if ((i & 1023) === 0) context.checkpoint();
      const l = Math.hypot(directions[o], directions[o + 1], directions[o + 2]) || 1;
      const dx = directions[o] / l,
        dy = directions[o + 1] / l,
        dz = directions[o + 2] / l;
      const found = hitBy(index, places[o], places[o + 1], places[o + 2], dx, dy, dz, 0, longest, sides);
      const t = found < 0 ? 0 : index.rayDistance;
      position[o] = places[o] + dx * t;
      position[o + 1] = places[o + 1] + dy * t;
      position[o + 2] = places[o + 2] + dz * t;
      distance[i] = found < 0 ? (typed > 0 ? typed : 0) : t;
      if (found < 0) continue;
      hit[i] = 1;
      face[i] = faces[found];
      faceNormal(normal, o, mesh.positions, points[found * 3] * 3, points[found * 3 + 1] * 3, points[found * 3 + 2] * 3);
    }
    return {
      hit: valuesLike(from, 'toggle', hit),
      distance: valuesLike(from, 'number', distance),
      position: valuesLike(from, 'vector', position, 'position'),
      normal: valuesLike(from, 'vector', normal, 'normal'),
      face: valuesLike(from, 'integer', face),
    };
  },
};
