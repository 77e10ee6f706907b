import {
  makeGrid,
  makeObject,
  makeProject,
  type GraphRecord,
  type InputValue,
  type NodeRecord,
  type Project,
  type SettingValue,
} from '@umberfish/core';

type Wire = [from: string, to: string];

/** A node record in short. */
export function node(
  id: string,
  type: string,
  inputs: Record<string, InputValue> = {},
  settings: Record<string, SettingValue> = {},
): NodeRecord {
  return { id, type, version: 1, title: '', position: [0, 0], inputs, settings, skip: false, probes: [] };
}

/** A graph from nodes and wires written as `node.port`. */
export function graph(nodes: NodeRecord[], wires: Wire[]): GraphRecord {
  const end = (s: string) => ({ node: s.split('.')[0], port: s.split('.')[1] });
  return {
    id: 'graph',
    name: 'Graph',
    nodes,
    preview: null,
    wires: wires.map(([from, to], i) => ({ id: `w${i}`, from: end(from), to: end(to) })),
  };
}

/** The swell: points move out along their normals by a response of their distance to a locator. */
export function swellProject(
  locator: readonly [number, number, number],
  radius: number,
  height: number,
  heightColumn = false,
): Project {
  const base = makeProject('bench', 'Bench');
  const channels = {
    translate: locator,
    rotate: [0, 0, 0] as const,
    order: 'xyz' as const,
    scale: [1, 1, 1] as const,
  };
  void heightColumn;
  return {
    ...base,
    assets: [{ id: 'mesh', name: 'Mesh', points: 0, faces: 0, origin: '' }],
    objects: [
      makeObject('fish', 'Fish', 'mesh', { mesh: 'mesh' }),
      makeObject('loc', 'Swell here', 'locator', { channels }),
    ],
    graphs: [
      graph(
        [
          node('in', 'scene-mesh', {}, { object: 'fish' }),
          node('values', 'point-values'),
          node('loc', 'scene-locator', {}, { object: 'loc' }),
          node('distance', 'measure'),
          node('ratio', 'arithmetic', { b: radius }, { operation: 'divide' }),
          node('response', 'response'),
          node('amount', 'arithmetic', { c: height }, { operation: 'multiply', operands: '3' }),
          node('move', 'move-points'),
          node('show', 'show-mesh', {}, { object: 'fish', name: 'fish' }),
        ].map((n) => (n.id === 'loc' ? { ...n, id: 'locator' } : n)),
        [
          ['in.mesh', 'values.mesh'],
          ['values.positions', 'distance.a'],
          ['locator.position', 'distance.b'],
          ['distance.result', 'ratio.a'],
          ['ratio.result', 'response.value'],
          ['values.normals', 'amount.a'],
          ['response.result', 'amount.b'],
          ['in.mesh', 'move.mesh'],
          ['amount.result', 'move.offset'],
          ['move.mesh', 'show.mesh'],
        ],
      ),
    ],
  };
}

/** A flat grid of about `points` points. */
export const gridOf = (points: number, size = 4) => {
  const cells = Math.round(Math.sqrt(points)) - 1;
  return makeGrid([size, size], [cells, cells]);
};
