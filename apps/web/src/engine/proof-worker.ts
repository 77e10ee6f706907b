import { expose } from 'comlink';
import { prove, recordPlaces, type ModuleFile, type ProofResult } from '@umberfish/core';

const prover = {
  /** Tries the proofs of a module away from the page. */
  prove: (file: ModuleFile): ProofResult[] => prove(file, () => performance.now()),
  /** Places of points of its example, for a proof that holds them. @throws Error with a sentence */
  record: (file: ModuleFile, frame: number, count: number): number[] => recordPlaces(file, frame, count),
};

export type Prover = typeof prover;

expose(prover);
