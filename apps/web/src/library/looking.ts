import { wrap, type Remote } from 'comlink';
import { memoize, moduleHash, type Dials, type ExampleLook, type ModuleFile } from '@umberfish/core';
import type { Prover } from '../engine/proof-worker.ts';

/** Longer than a look may take by itself: then the worker is given up. */
const MOST_MS = 30_000;

/** So long after the last look the worker goes, and what it keeps with it. */
const IDLE_MS = 60_000;

/** At this frame what moves has moved. */
export const PICTURE_FRAME = 16;

let worker: Worker | undefined;
let prover: Remote<Prover> | undefined;
/** Looks that wait for their turn. */
const waiting: (() => Promise<void>)[] = [];
let isLooking = false;
let idle = 0;

function begun(): Remote<Prover> {
  if (prover) return prover;
  worker = new Worker(new URL('../engine/proof-worker.ts', import.meta.url), { type: 'module' });
  worker.addEventListener('error', stopLooking);
  return (prover = wrap<Prover>(worker));
}

/** Lets the worker go that looks at examples. */
function stopLooking(): void {
  worker?.terminate();
  worker = undefined;
  prover = undefined;
}

/** What tells one state of a module from another. */
export const keyOf = memoize(
  ({ module, inside }: ModuleFile) => `${moduleHash({ modules: [module, ...inside] }, module)} ${module.example}`,
);

/**
 * What is seen of a module's example with its dials turned, at a frame: evaluated away from the page, one after the other.
 * @param first before all that wait: it is what somebody looks at. @throws Error with a sentence
 */
export function lookAway(file: ModuleFile, dials: Dials, frame: number, first = false): Promise<ExampleLook> {
  const look = async (): Promise<ExampleLook> => {
    let timer = 0;
    window.clearTimeout(idle);
    const late = new Promise<never>((_, refuse) => {
      timer = window.setTimeout(() => {
        stopLooking();
        refuse(new Error(`Its example did not come within ${MOST_MS / 1000} s and was stopped.`));
      }, MOST_MS);
    });
    try {
      return await Promise.race([begun().look(keyOf(file), file, dials, frame), late]);
    } finally {
      window.clearTimeout(timer);
      idle = window.setTimeout(stopLooking, IDLE_MS);
    }
  };
  return new Promise((resolve, reject) => {
    const turn = () => look().then(resolve, reject);
    if (first) waiting.unshift(turn);
    else waiting.push(turn);
    void goOn();
  });
}

/** Takes one look after the other, as long as any waits. */
async function goOn(): Promise<void> {
  if (isLooking) return;
  isLooking = true;
  for (let turn = waiting.shift(); turn; turn = waiting.shift()) await turn();
  isLooking = false;
}
