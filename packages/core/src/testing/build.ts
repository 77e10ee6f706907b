import { CATALOGUE } from '../nodes/index.ts';
import { type InputValue, type SettingValue } from '../project/fields.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { makeProject, type GraphRecord, type NodeRecord, type Project, type WireRecord } from '../project/schema.ts';
import { Evaluator, type Evaluation, type EvaluatorOptions } from '../graph/evaluate/evaluator.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import type { Mesh } from '../geometry/mesh.ts';
import type { Column, Value } from '../graph/node/values.ts';

/** Short ways to write graphs in tests and benchmarks. */
export interface NodeParts {
  inputs?: Record<string, InputValue>;
  settings?: Record<string, SettingValue>;
  skip?: boolean;
  version?: number;
  probes?: readonly string[];
}

export function node(id: string, type: string, parts: NodeParts = {}): NodeRecord {
  return {
    id,
    type,
    version: parts.version ?? 1,
    title: '',
    position: [0, 0],
    inputs: parts.inputs ?? {},
    settings: parts.settings ?? {},
    skip: parts.skip ?? false,
    probes: parts.probes ?? [],
  };
}

/** Wires as `from.port > to.port`. */
export function wire(text: string): WireRecord {
  const [from, to] = text.split('>').map((t) => t.trim().split('.'));
  return { id: text, from: { node: from[0], port: from[1] }, to: { node: to[0], port: to[1] }, pins: [] };
}

export const graph = (nodes: NodeRecord[], wires: string[], id = 'graph'): GraphRecord => ({
  id,
  name: id,
  nodes,
  wires: wires.map(wire),
  sections: [],
  preview: null,
});

/** A project with a mesh object `fish` (asset `mesh`), a locator `here`, and graphs. */
export function project(
  graphs: GraphRecord[],
  locator: readonly [number, number, number] = [0, 0, 0],
  extra: ObjectRecord[] = [],
): Project {
  const channels = {
    translate: locator,
    rotate: [0, 0, 0] as const,
    order: 'xyz' as const,
    scale: [1, 1, 1] as const,
  };
  return {
    ...makeProject('test', 'Test'),
    assets: [{ id: 'mesh', name: 'Mesh', points: 0, faces: 0, origin: 'test' }],
    objects: [
      makeObject('fish', 'Fish', 'mesh', { mesh: 'mesh' }),
      makeObject('here', 'Here', 'locator', { channels }),
      ...extra,
    ],
    graphs,
  };
}

/** The swell: distance to the locator ÷ radius, through a response, × height × normals, added. */
export const swell = (radius: InputValue = 0.85, height: InputValue = 0.3): GraphRecord =>
  graph(
    [
      node('in', 'scene-mesh', { settings: { object: 'fish' } }),
      node('values', 'point-values'),
      node('locator', 'scene-locator', { settings: { object: 'here' } }),
      node('distance', 'measure'),
      node('ratio', 'arithmetic', { settings: { operation: 'divide' }, inputs: { b: radius } }),
      node('response', 'response'),
      node('offset', 'arithmetic', { settings: { operation: 'multiply', operands: '3' }, inputs: { c: height } }),
      node('move', 'move-points'),
      node('show', 'show-mesh', { settings: { object: 'fish' } }),
    ],
    [
      'in.mesh > values.mesh',
      'values.positions > distance.a',
      'locator.position > distance.b',
      'distance.result > ratio.a',
      'ratio.result > response.value',
      'values.normals > offset.a',
      'response.result > offset.b',
      'in.mesh > move.mesh',
      'offset.result > move.offset',
      'move.mesh > show.mesh',
    ],
  );

/** The breathing water: noise of the positions at a frequency in time, along the normals. */
export const breathing = (): GraphRecord =>
  graph(
    [
      node('in', 'scene-mesh', { settings: { object: 'fish' } }),
      node('values', 'point-values'),
      node('breath', 'number', { inputs: { value: { expression: '0.8 + 0.4 * sin(seconds / 3)' } } }),
      node('noise', 'noise', { inputs: { octaves: 4 } }),
      node('offset', 'arithmetic', { settings: { operation: 'multiply', operands: '3' }, inputs: { c: 0.2 } }),
      node('move', 'move-points'),
      node('show', 'show-mesh', { settings: { object: 'fish' } }),
    ],
    [
      'in.mesh > values.mesh',
      'values.positions > noise.position',
      'breath.number > noise.frequency',
      'values.normals > offset.a',
      'noise.result > offset.b',
      'in.mesh > move.mesh',
      'offset.result > move.offset',
      'move.mesh > show.mesh',
    ],
  );

export const SHOWN = { node: 'show', port: SHOWN_PORT };

/** An evaluator that knows the mesh of `fish`, and spoils what nobody should read. */
export function evaluatorOf(mesh: Mesh, options: EvaluatorOptions = {}): Evaluator {
  const evaluator = new Evaluator(CATALOGUE, { arrays: { spoils: true }, ...options });
  evaluator.setAsset('mesh', mesh);
  return evaluator;
}

/** Runs one node with typed inputs and gives its outputs and its report. */
export function runNode(
  type: string,
  parts: NodeParts,
  ports: string[],
  mesh?: Mesh,
): { values: (Value | undefined)[]; evaluation: Evaluation } {
  const nodes = [node('it', type, parts)];
  const wires: string[] = [];
  if (mesh) {
    nodes.push(node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }));
    wires.push('in.mesh > it.mesh');
  }
  const evaluator = new Evaluator(CATALOGUE);
  if (mesh) evaluator.setAsset('mesh', mesh);
  const wanted = ports.map((port) => ({ node: 'it', port }));
  const evaluation = evaluator.evaluate({ project: project([graph(nodes, wires)]), frame: 12, wanted });
  return { values: wanted.map((w) => evaluation.value(w)), evaluation };
}

/** The mesh of a value. @throws Error when it is none */
export function meshOf(v: Value | undefined): Mesh {
  if (v?.form !== 'geometry') throw new Error('no mesh');
  return v.mesh;
}

/** A value as a column. @throws Error when it is none */
export function columnOf(v: Value | undefined): Column {
  if (v?.form !== 'column') throw new Error('no column');
  return v;
}
