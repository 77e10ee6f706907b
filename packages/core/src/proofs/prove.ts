import { wallsOf } from '../modules/walls.ts';
import type { ModuleFile } from '../modules/file.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { isClosed } from '../nearest/signed.ts';
import { CATALOGUE } from '../nodes/index.ts';
import type { Proof } from '../project/schema.ts';
import { exampleOf } from './example.ts';
import { areaOf, farthest, stretchOf, volumeOf } from './measures.ts';
import { ProofError, Trial, type Dials } from './trial.ts';

export { exampleMesh, exampleOf, fileOf, type Example } from './example.ts';
export { lookAt, type ExampleLook } from './look.ts';
export { Trial, type Dials } from './trial.ts';

/** One proof of a module, tried. */
export interface ProofResult {
  /** What it says, with the numbers it asks for. */
  readonly name: string;
  readonly ok: boolean;
  /** Why it may fail; empty: it may not. */
  readonly known: string;
  /** What was found, in words, with its number. */
  readonly found: string;
  readonly number: number;
  /** Where it fails worst: at which frame, at which point, with which dials. */
  readonly frame?: number;
  readonly element?: number;
  readonly dials?: Dials;
}

/** What a proof says, in words. */
export function proofName(proof: Proof, nameOf: (way: string) => string = (w) => w): string {
  const dials = Object.entries(proof.dials).map(([way, v]) => `${nameOf(way)} ${JSON.stringify(v)}`);
  const where = dials.length > 0 ? ` (${dials.join(', ')})` : '';
  switch (proof.kind) {
    case 'keeps-rest':
      return `keeps rest within ${proof.within} m${where}`;
    case 'no-pop':
      return `no pop over ${proof.dial === null ? 'frames' : nameOf(proof.dial)} ${proof.from} to ${proof.to}${where}`;
    case 'stretch':
      return `stretch between ${proof.least} and ${proof.most}${where}`;
    case 'volume':
      return `volume within ${close(proof.within * 100)} %${where}`;
    case 'area':
      return `area within ${close(proof.within * 100)} %${where}`;
    case 'stays-closed':
      return `stays closed${where}`;
    case 'finite':
      return `nothing that is not finite${where}`;
    case 'same-order':
      return `same point order${where}`;
    case 'as-recorded':
      return `as recorded within ${proof.within} m at frame ${proof.frame}${where}`;
    case 'cost':
      return `cost at most ${proof.most} × copying${where}`;
  }
}

/** Tries every proof of a module on its example. @param now a clock in ms */
export async function prove(file: ModuleFile, now: () => number = () => 0): Promise<ProofResult[]> {
  const { module } = file;
  const names = new Map(wallsOf(CATALOGUE, module.graph).ins.map((w) => [w.id, w.name]));
  const example = await exampleOf(file);
  return module.proofs.map((proof): ProofResult => {
    const name = proofName(proof, (w) => names.get(w) ?? w);
    const { known } = proof;
    const lost = [...Object.keys(proof.dials), ...(proof.kind === 'no-pop' ? [proof.dial] : [])].find(
      (w) => w !== null && !names.has(w),
    );
    const wrong = typeof example === 'string' ? example : lost && `The dial it turns, "${lost}", is gone.`;
    if (typeof example === 'string' || wrong) return { name, known, ok: false, number: NaN, found: wrong ?? '' };
    try {
      return { name, known, dials: proof.dials, ...tryProof(new Trial(example, now), proof) };
    } catch (error) {
      if (!(error instanceof ProofError)) throw error;
      return { name, known, ok: false, number: NaN, found: error.message };
    }
  });
}

type Outcome = Omit<ProofResult, 'name' | 'known'>;

const close = (v: number): string => (Number.isFinite(v) ? String(Number(v.toPrecision(3))) : String(v));

function tryProof(trial: Trial, proof: Proof): Outcome {
  const mesh = trial.rest;
  switch (proof.kind) {
    case 'keeps-rest': {
      const { most, at } = farthest(trial.at(proof.dials).positions, mesh.positions);
      return { ok: most <= proof.within, number: most, element: at, found: `point ${at} moves by ${close(most)} m` };
    }
    case 'no-pop':
      return tryPop(trial, proof);
    case 'stretch': {
      const { least, most, at } = stretchOf(mesh, trial.at(proof.dials).positions);
      const ok = least >= proof.least && most <= proof.most;
      return { ok, number: most, element: at, found: `edges are ${close(least)} to ${close(most)} × as long` };
    }
    case 'volume': {
      if (!isClosed(mesh)) throw new ProofError('Its example holds no volume. Choose the ball or the block.');
      const [was, now] = [volumeOf(mesh), volumeOf(trial.at(proof.dials))];
      const off = Math.abs(now / was - 1);
      return { ok: off <= proof.within, number: off, found: `the volume is off by ${close(off * 100)} %` };
    }
    case 'area': {
      const off = Math.abs(areaOf(trial.at(proof.dials)) / areaOf(mesh) - 1);
      return { ok: off <= proof.within, number: off, found: `the area is off by ${close(off * 100)} %` };
    }
    case 'stays-closed': {
      if (!isClosed(mesh)) throw new ProofError('Its example is not closed. Choose the ball or the block.');
      const ok = isClosed(trial.at(proof.dials));
      return { ok, number: ok ? 0 : 1, found: ok ? 'it is closed' : 'it has open edges' };
    }
    case 'finite': {
      const { positions } = trial.at(proof.dials);
      const bad = positions.findIndex((v) => !Number.isFinite(v));
      const element = Math.floor(bad / 3);
      return bad < 0
        ? { ok: true, number: 0, found: 'all numbers are finite' }
        : { ok: false, number: 1, element, found: `point ${element} is not finite` };
    }
    case 'same-order': {
      const out = trial.at(proof.dials);
      const ok = out.topology.id === mesh.topology.id;
      return { ok, number: ok ? 0 : 1, found: ok ? 'points and faces are as before' : 'points or faces are others' };
    }
    case 'as-recorded': {
      const places = placesOf(trial.at(proof.dials, proof.frame), proof.places.length / 3);
      const { most, at } = farthest(Float32Array.from(places), Float32Array.from(proof.places));
      return {
        ok: most <= proof.within,
        number: most,
        frame: proof.frame,
        element: at,
        found: `off by ${close(most)} m at most`,
      };
    }
    case 'cost':
      return tryCost(trial, proof.dials, proof.most);
  }
}

/** By now, what carries an example is elsewhere. */
const MOVED_AT = 20;

/** Steps of an eighth are at least four times as small as whole ones (DECISIONS 27). */
function tryPop(trial: Trial, proof: Extract<Proof, { kind: 'no-pop' }>): Outcome {
  const { dial, from, to } = proof;
  const steps = 6;
  // A dial between drivers does nothing while they stand where they stood when the object was put there.
  const frame = trial.example.carries ? MOVED_AT : 1;
  const at = (t: number): Readonly<Float32Array> => {
    const v = from + (to - from) * t;
    return dial === null ? trial.at(proof.dials, v).positions : trial.at({ ...proof.dials, [dial]: v }, frame).positions;
  };
  /** The eight steps from one place of the range to another, each with the farthest move in it. */
  const stepsOf = (start: number, end: number) => {
    const first = at(start);
    let before = first;
    const eighths = Array.from({ length: 8 }, (_, e) => {
      const t = start + ((end - start) * (e + 1)) / 8;
      const now = at(t);
      const step = { ...farthest(before, now), start: start + ((end - start) * e) / 8, t };
      if (Number.isNaN(step.most)) throw new ProofError(`Point ${step.at} is not finite at ${close(from + (to - from) * t)}.`);
      before = now;
      return step;
    });
    return { eighths, whole: farthest(first, before).most };
  };
  const parts = Array.from({ length: steps }, (_, k) => stepsOf(k / steps, (k + 1) / steps));
  const whole = Math.max(...parts.map((p) => p.whole));
  const all = parts.flatMap((p) => p.eighths).sort((a, b) => b.most - a.most);
  // What comes and goes faster than the whole steps looks like a jump; a jump is one in the eighths of its eighth too.
  const suspects = all.filter((e) => e.most * 4 > whole && e.most > LEAST);
  const worst = (of: readonly (typeof all)[number][]) => of.reduce((m, e) => (e.most > m.most ? e : m));
  const finer = suspects.map((e) => worst(stepsOf(e.start, e.t).eighths));
  const found = finer.find((e) => e.most * 4 > all[0].most);
  const { most, at: element, t } = found ?? all[0];
  const where = from + (to - from) * t;
  return {
    ok: !found,
    number: most,
    element,
    ...(dial === null ? { frame: Number(where.toFixed(3)) } : { frame, dials: { ...proof.dials, [dial]: where } }),
    found: found
      ? `it jumps by ${close(most)} m at ${close(where)}`
      : `steps of ${close(whole)} m come to ${close(most)} m at an eighth`,
  };
}

/** Moves that are none (metres). */
const LEAST = 1e-6;

/** Places of some points of what comes out, to be recorded for a proof. */
export async function recordPlaces(file: ModuleFile, frame: number, count: number): Promise<number[]> {
  const example = await exampleOf(file);
  if (typeof example === 'string') throw new Error(example);
  return placesOf(new Trial(example, () => 0).at({}, frame), count);
}

/** Some of a mesh's points, evenly spread. */
function placesOf({ positions }: Mesh, count: number): number[] {
  const points = positions.length / 3;
  return Array.from({ length: count }, (_, i) => Math.floor((i * points) / count)).flatMap((p) => [
    positions[p * 3],
    positions[p * 3 + 1],
    positions[p * 3 + 2],
  ]);
}

/**
 * The best of some runs on a finer example, a dial turned a little at each, as a multiple of copying the positions: paired
 * rounds, the shortest of each side (DECISIONS 40). What is over the bound is measured again before it counts as missed.
 */
function tryCost(trial: Trial, dials: Dials, most: number): Outcome {
  const { example, now } = trial;
  if (example.carries) throw new ProofError('It moves no points, so it costs no copying of any. Leave this proof out.');
  const fine = trial.fine();
  const copied = fine.at(dials).positions;
  const { dial } = example;
  let ours = Infinity;
  let copy = Infinity;
  for (let round = 1; round <= ROUNDS * TAKES; round++) {
    if (round > ROUNDS && round % ROUNDS === 1 && ours <= most * copy) break;
    const turned = dial === undefined ? dials : { ...dials, [dial.way]: dial.value * (1 + round * 1e-6) + round * 1e-9 };
    let begun = now();
    fine.at(turned);
    ours = Math.min(ours, now() - begun);
    begun = now();
    for (let k = 0; k < COPIES; k++) kept = copied.slice();
    copy = Math.min(copy, (now() - begun) / COPIES);
  }
  const number = copy > 0 ? ours / copy : 0;
  return {
    ok: number <= most && kept.length === copied.length,
    number,
    found: `${close(number)} × copying ${copied.length / 3} points`,
  };
}

const ROUNDS = 15;
/** How often it is measured before it counts as missed. */
const TAKES = 4;
/** Copies of one measurement: one alone is near what a clock tells apart. */
const COPIES = 5;
/** So that copying is not left out. */
let kept = new Float32Array(0);
