import {
  CATALOGUE,
  Evaluator,
  hashArrays,
  hashText,
  resolveProject,
  weigh,
  type Evaluation,
  type Mesh,
  type PortRef,
  type Project,
  type Value,
} from '@umberfish/core';

/** A hash of what every output of every node comes to, by `node.port`, over a few frames of the range. */
export type Recording = Readonly<Record<string, string>>;

const FRAMES = [1, 37, 120];

/** Places that falloffs are told apart by. */
const PLACES = Float32Array.from({ length: 300 }, (_, i) => Math.sin(i * 12.9898) * (1 + (i % 7)));

/** All outputs of all nodes. */
export function outputsOf(project: Project): readonly PortRef[] {
  return [...resolveProject(CATALOGUE, project)].flatMap(([node, { outputs }]) => outputs.map((p) => ({ node, port: p.id })));
}

/** Hashes every bit of what outputs come to, by `node.port`. */
export function hashesOf(evaluation: Evaluation, outputs: readonly PortRef[]): ReadonlyMap<string, string> {
  return new Map(
    outputs.map((ref) => {
      const value = evaluation.value(ref);
      return [`${ref.node}.${ref.port}`, value ? hashValue(value) : 'nothing'];
    }),
  );
}

/** Evaluates all outputs at each frame by itself, and hashes every bit of what comes. */
export function recordResults(project: Project, assets: ReadonlyMap<string, Mesh>): Recording {
  const outputs = outputsOf(project);
  const found = new Map<string, string>();
  for (const frame of FRAMES) {
    const evaluator = new Evaluator(CATALOGUE);
    for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
    const hashes = hashesOf(evaluator.evaluate({ project, frame, wanted: outputs }), outputs);
    for (const [name, hash] of hashes) found.set(name, hashText(`${found.get(name) ?? ''} ${hash}`));
  }
  return Object.fromEntries([...found].sort(([a], [b]) => (a < b ? -1 : 1)));
}

type Numbers = Readonly<Float32Array | Float64Array | Int32Array>;

const hashAll = (...arrays: readonly Numbers[]): string =>
  hashArrays(...arrays.map((a) => (a instanceof Float64Array ? words(a) : (a as Float32Array | Int32Array))));

/** The bits of 64-bit numbers. */
const words = (a: Readonly<Float64Array>): Int32Array => new Int32Array(Float64Array.from(a).buffer);

function hashMesh({ topology, positions, attributes }: Mesh): string {
  const named = attributes.map((a) => `${a.name} ${a.on} ${a.type} ${a.role} ${hashAll(a.data)}`);
  return hashText([hashAll(positions, topology.faceStarts, topology.cornerPoints), ...named].join('\n'));
}

function hashValue(value: Value): string {
  switch (value.form) {
    case 'single':
    case 'column':
    case 'matrices':
      return `${value.kind} ${hashAll(value.data)}`;
    case 'geometry':
      return hashMesh(value.mesh);
    case 'curves': {
      const { positions, handles, roll, width } = value.curves;
      return hashAll(positions, handles, roll, width);
    }
    case 'copies': {
      const { matrices, which, sources, attributes } = value.copies;
      return [hashAll(matrices, which, ...attributes.map((a) => a.data)), ...sources.map(hashMesh)].join(' ');
    }
    case 'falloff':
      return hashAll(weigh(value.falloff, PLACES, new Float32Array(PLACES.length / 3)));
    case 'chain':
      return hashAll(value.chain.rest, value.chain.posed, value.chain.parents);
    case 'driven':
      return JSON.stringify([...value.driven].map(([id, d]) => [id, d.carrier && [...d.carrier], d.channels]));
  }
}
