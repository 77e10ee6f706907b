import { expose } from 'comlink';
import {
  movesBetween,
  prove,
  recordPlaces,
  type Mesh,
  type ModuleFile,
  type Project,
  type ProofResult,
  type ResultMove,
} from '@umberfish/core';

const prover = {
  /** Tries the proofs of a module away from the page. */
  prove: (file: ModuleFile): Promise<ProofResult[]> => prove(file, () => performance.now()),
  /** What two projects show otherwise at a frame, and by how much. */
  moves: (before: Project, after: Project, assets: ReadonlyMap<string, Mesh>, frame: number): ResultMove[] =>
    movesBetween(before, after, assets, frame),
  /** Places of points of its example, for a proof that holds them. @throws Error with a sentence */
  record: (file: ModuleFile, frame: number, count: number): Promise<number[]> => recordPlaces(file, frame, count),
};

export type Prover = typeof prover;

expose(prover);
