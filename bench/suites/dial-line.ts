import { makeGrid, type Mesh, type NodeRecord } from '@umberfish/core';
import { evaluatorOf, graph, node, project } from '../../packages/core/src/testing/build.ts';
import { compare, sink, type Trial } from '../measure.ts';

/** A graph whose node `it` has a dial, and a loop that gives the same numbers. */
export interface DialLine {
  readonly name: string;
  /** What the graph has besides the mesh that comes in, for a dial. */
  readonly nodes: (dial: number) => readonly NodeRecord[];
  readonly wires: readonly string[];
  readonly dial: (step: number) => number;
  readonly byHand: (out: Float32Array, p: Readonly<Float32Array>, dial: number) => void;
  /** The port that the mesh goes through; default `mesh`. */
  readonly port?: string;
  /** Which numbers are looked at: positions, or an attribute. */
  readonly attribute?: string;
  readonly mesh: Mesh;
  readonly target?: number;
  readonly rounds?: number;
}

const source = node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } });

/** Moves the dial, beside the loop, after seeing that both give the same. */
export function lineOf({
  name,
  nodes,
  wires,
  dial,
  byHand,
  port = 'mesh',
  attribute,
  mesh,
  target = 1.3,
  rounds = 15,
}: DialLine): Trial {
  const evaluator = evaluatorOf(mesh, { arrays: {} });
  const wanted = [{ node: 'it', port }];
  const all = wires.some((w) => /> it\.(mesh|geometry)/.test(w)) ? [...wires] : ['in.mesh > it.mesh', ...wires];
  let step = 0;
  const run = (): Readonly<Float32Array> => {
    const document = project([graph([source, ...nodes(dial(step++ % 97))], all)]);
    const value = evaluator.evaluate({ project: document, frame: 1, wanted, gesture: name }).value(wanted[0]);
    if (value?.form !== 'geometry') throw new Error(`${name} gave no mesh.`);
    evaluator.settle();
    const found = attribute ? value.mesh.attributes.find((a) => a.name === attribute)?.data : value.mesh.positions;
    sink.value += found?.[1] ?? 0;
    return found as Float32Array;
  };
  const p = mesh.positions;
  const loop = () => {
    const out = new Float32Array(p.length);
    byHand(out, p, dial(step % 97));
    sink.value += out[1];
    return out;
  };
  const mine = run();
  step = 0;
  loop().forEach((v, i) => {
    if (!(Math.abs(v - mine[i]) <= 1e-4)) throw new Error(`${name}: number ${i} is ${mine[i]}, by hand ${v}.`);
  });
  step = 1;
  return compare(
    `${name}, ${mesh.topology.pointCount.toLocaleString('en')} points ÷ a hand-written loop`,
    run,
    loop,
    'lower',
    target,
    rounds,
  );
}

/** A wavy grid of so many points a side. */
export function wavy(cells: number): Mesh {
  const mesh = makeGrid([4, 4], [cells, cells]);
  for (let i = 0, p = mesh.positions as Float32Array; i < p.length; i += 3) p[i + 1] = 0.3 * Math.sin(3 * p[i] + p[i + 2]);
  return mesh;
}
