import { makeGrid, makeSphere } from '../geometry/primitives.ts';
import { makeBox } from '../geometry/solids.ts';
import { subdivide } from '../geometry/subdivide.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { moduleFile, type ModuleFile } from '../modules/file.ts';
import { wallsOf } from '../modules/walls.ts';
import { memoize } from '../memo.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { makeObject } from '../project/kinds/index.ts';
import { makeProject, type ModuleRecord, type Project } from '../project/schema.ts';
import { takeIn } from '../edits/module-versions.ts';
import { putOn, wrongToPutOn } from '../edits/put-on.ts';

const made = memoize((_: typeof SHAPES): Record<ModuleRecord['example'], Mesh> => ({
  ball: makeSphere(1, 48, 64),
  block: subdivide(makeBox([1, 2, 1], [6, 12, 6]), 1),
  sheet: makeGrid([4, 4], [64, 64]),
}));
const SHAPES = {};

/** What the proofs of a module are tried on: a ball of radius 1 m, a block of 1 × 2 × 1 m, a sheet of 4 × 4 m. */
export const exampleMesh = (example: ModuleRecord['example']): Mesh => made(SHAPES)[example];

/** The same with a hundred thousand points, for what depends on their number. */
export const fineMesh = (example: ModuleRecord['example']): Mesh =>
  example === 'sheet'
    ? makeGrid([4, 4], [316, 316])
    : example === 'ball'
      ? makeSphere(1, 250, 400)
      : subdivide(makeBox([1, 2, 1], [45, 90, 45]), 1);

/** A small scene in which a module was put on its example. */
export interface Example {
  readonly project: Project;
  readonly mesh: Mesh;
  /** The graph and the use in it. */
  readonly graph: string;
  readonly use: string;
  readonly example: ModuleRecord['example'];
  /** A dial that is a number, and its default. */
  readonly dial: { readonly way: string; readonly value: number } | undefined;
}

/** The example of a module; or, in a sentence, why it has none. */
export function exampleOf(file: ModuleFile): Example | string {
  const mesh = exampleMesh(file.module.example);
  const object = makeObject('example', 'Example', 'mesh', { mesh: 'example' });
  const start: Project = {
    ...makeProject('example', 'Example'),
    range: { first: 1, last: 48 },
    assets: [{ id: 'example', name: 'Example', points: mesh.topology.pointCount, faces: mesh.topology.faceCount, origin: '' }],
    objects: [object],
  };
  const taken = takeIn(start, file);
  const wrong = wrongToPutOn(CATALOGUE, taken.module, [object]);
  if (wrong) return wrong;
  const { project, graph, use } = putOn(CATALOGUE, taken.project, taken.module, [object], () => mesh);
  const numbers = wallsOf(CATALOGUE, taken.module.graph).ins.flatMap((w) =>
    w.kind === 'number' && typeof w.default === 'number' ? [{ way: w.id, value: w.default }] : [],
  );
  return { project, mesh, graph, use, example: file.module.example, dial: numbers.at(0) };
}

/** A module of a project by itself, as its file would be. */
export const fileOf = (project: Pick<Project, 'modules'>, module: ModuleRecord): ModuleFile =>
  moduleFile(project, module, '', '');
