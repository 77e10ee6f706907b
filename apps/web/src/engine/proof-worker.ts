import { expose, transfer } from 'comlink';
import {
  CATALOGUE,
  checkHandOut,
  exampleOf,
  type Finding,
  lookAt,
  movesBetween,
  prove,
  recordPlaces,
  Trial,
  type Dials,
  type ExampleLook,
  type Mesh,
  type ModuleFile,
  type Project,
  type ProofResult,
  type ResultMove,
} from '@umberfish/core';

/** The module that is looked at, and its example as it was evaluated last. */
let looked: { readonly key: string; readonly trial: Trial } | undefined;

async function trialOf(key: string, file: ModuleFile): Promise<Trial> {
  if (looked?.key === key) return looked.trial;
  const example = await exampleOf(file);
  if (typeof example === 'string') throw new Error(example);
  const trial = new Trial(example, () => performance.now());
  looked = { key, trial };
  return trial;
}

const prover = {
  /** What an animator would stumble over in what is handed out, at a frame. */
  handOut: (project: Project, assets: ReadonlyMap<string, Mesh>, frame: number): Finding[] =>
    checkHandOut(CATALOGUE, { project, assets, repairs: [] }, frame),
  /** Tries the proofs of a module away from the page. */
  prove: (file: ModuleFile): Promise<ProofResult[]> => prove(file, () => performance.now()),
  /** What two projects show otherwise at a frame, and by how much. */
  moves: (before: Project, after: Project, assets: ReadonlyMap<string, Mesh>, frame: number): ResultMove[] =>
    movesBetween(before, after, assets, frame),
  /** What is seen of a module's example with its dials turned, at a frame. @throws Error with a sentence */
  look: async (key: string, file: ModuleFile, dials: Dials, frame: number): Promise<ExampleLook> => {
    const look = lookAt(await trialOf(key, file), dials, frame);
    return transfer(look, [look.positions.buffer, look.normals.buffer, look.triangles.buffer]);
  },
  /** Places of points of its example, for a proof that holds them. @throws Error with a sentence */
  record: (file: ModuleFile, frame: number, count: number): Promise<number[]> => recordPlaces(file, frame, count),
};

export type Prover = typeof prover;

expose(prover);
