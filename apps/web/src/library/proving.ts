import { wrap, type Remote } from 'comlink';
import {
  proveTwice,
  type Finding,
  type Mesh,
  type ModuleFile,
  type Project,
  type ProofResult,
  type ResultMove,
} from '@umberfish/core';
import type { Prover } from '../engine/proof-worker.ts';

/** Longer than a module's proofs may take by themselves: then its worker is given up. */
const MOST_MS = 90_000;

async function withProver<T>(work: (prover: Remote<Prover>) => Promise<T>): Promise<T> {
  const worker = new Worker(new URL('../engine/proof-worker.ts', import.meta.url), { type: 'module' });
  try {
    return await Promise.race([
      work(wrap<Prover>(worker)),
      new Promise<never>((_, refuse) => {
        worker.addEventListener('error', () => refuse(new Error('It broke off. Try again; if that repeats, look at its cards.')));
        window.setTimeout(() => refuse(new Error(`It did not end within ${MOST_MS / 1000} s and was stopped.`)), MOST_MS);
      }),
    ]);
  } finally {
    worker.terminate();
  }
}

/** Tries the proofs of a module, away from the page. @throws Error with a sentence */
export function proveAway(file: ModuleFile): Promise<ProofResult[]> {
  const inWorker = (f: ModuleFile) => withProver((p) => p.prove(f));
  return proveTwice(file, inWorker, inWorker);
}

/** Places of points of a module's example at a frame. @throws Error with a sentence */
export const recordAway = (file: ModuleFile, frame: number, count: number): Promise<number[]> =>
  withProver((p) => p.record(file, frame, count));

/** What two projects show otherwise at a frame, and by how much. @throws Error with a sentence */
export const movesAway = (
  before: Project,
  after: Project,
  assets: ReadonlyMap<string, Mesh>,
  frame: number,
): Promise<ResultMove[]> => withProver((p) => p.moves(before, after, assets, frame));

/** What an animator would stumble over in what is handed out, at a frame. @throws Error with a sentence */
export const checkHandOutAway = (project: Project, assets: ReadonlyMap<string, Mesh>, frame: number): Promise<Finding[]> =>
  withProver((p) => p.handOut(project, assets, frame));
