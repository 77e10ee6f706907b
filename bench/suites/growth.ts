import {
  CATALOGUE,
  Evaluator,
  facetGraph,
  makeObject,
  makeProject,
  readProjectFile,
  sampleObjects,
  writeProjectFile,
  type ObjectRecord,
  type Project,
} from '@umberfish/core';
import { readGltf, readObj, writeObjectsGlb } from '@umberfish/formats';
import { compare, sink, type Trial } from '../measure.ts';

/** The time of four times the work beside the time of the work: what grows in step with it costs about four times. */
const grown = (name: string, size: number, work: (size: number) => () => unknown): Trial =>
  compare(name, work(size * 4), work(size), 'lower', 5, 8);

const crates = (count: number, parent: (i: number) => string | null): Project => ({
  ...makeProject('p', 'P'),
  objects: Array.from({ length: count }, (_, i): ObjectRecord =>
    makeObject(`o${i}`, `Crate ${i}`, i % 5 === 0 ? 'group' : 'locator', { parent: parent(i) }),
  ),
});

/** Files and scenes that grow: nothing may take more than in step. */
export function growthSuite(): Trial[] {
  const opening = (parent: (i: number) => string | null) => (count: number) => {
    const text = writeProjectFile(crates(count, parent), new Map());
    return () => (sink.value += facetGraph(CATALOGUE, readProjectFile(text).project).dependencies.size);
  };
  const motion = (count: number) => {
    const frames = Array.from({ length: count }, (_, i) => i + 1);
    const p = {
      ...makeProject('p', 'P'),
      objects: [
        makeObject('a', 'A', 'locator'),
        makeObject('b', 'B', 'locator', { animated: { 'rotate.y': { expression: 'frame * 0.9' } } }),
      ],
    };
    const samples = sampleObjects(new Evaluator(CATALOGUE), p, ['a', 'b'], frames);
    return async () => (sink.value += (await writeObjectsGlb(samples, frames, 24, new Map())).bytes.length);
  };
  const groups = (count: number) => {
    const text = [
      'v 0 0 0',
      'v 1 0 0',
      'v 1 1 0',
      ...Array.from({ length: count }, (_, i) => `g g${i}\nusemtl m${i}\nf 1 2 3`),
    ].join('\n');
    return () => (sink.value += readObj(text).meshes.length);
  };
  const nodes = (count: number) => {
    const json = {
      asset: { version: '2.0' },
      nodes: Array.from({ length: count }, (_, i) => ({
        name: `n${i}`,
        children: i % 400 < 399 && i + 1 < count ? [i + 1] : [],
      })),
    };
    const bytes = new TextEncoder().encode(JSON.stringify(json));
    return async () => (sink.value += (await readGltf(bytes)).objects?.length ?? 0);
  };
  return [
    grown(
      'opening objects side by side, 4× as many',
      10_000,
      opening(() => null),
    ),
    grown(
      'opening objects in rows of a hundred, 4× as many',
      10_000,
      opening((i) => (i % 100 ? `o${i - 1}` : null)),
    ),
    grown('GLB of a still and a turning object, 4× as many frames', 4000, motion),
    grown('OBJ, 4× as many groups and materials', 8000, groups),
    grown('glTF, 4× as many nodes', 8000, nodes),
  ];
}
