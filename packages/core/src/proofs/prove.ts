import { edgesOf } from '../geometry/edges.ts';
import type { Mesh } from '../geometry/mesh.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { problemWords } from '../graph/node/problems.ts';
import { shownResults } from '../graph/network/shown.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { setInput } from '../edits/document.ts';
import { wallsOf } from '../modules/walls.ts';
import type { ModuleFile } from '../modules/file.ts';
import { isClosed } from '../nearest/signed.ts';
import { CATALOGUE } from '../nodes/index.ts';
import type { InputValue } from '../project/fields.ts';
import type { Proof, Project } from '../project/schema.ts';
import { exampleOf, fineMesh, type Example } from './example.ts';

export { exampleOf, fileOf, type Example } from './example.ts';

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
  /** Where it fails worst. */
  readonly frame?: number;
  readonly element?: number;
}

/** Milliseconds that one proof may take. */
const MOST_MS = 20_000;

class TooLong extends Error {}

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
      return `volume within ${proof.within * 100} %${where}`;
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
export function prove(file: ModuleFile, now: () => number = () => 0): ProofResult[] {
  const { module } = file;
  const names = new Map(wallsOf(CATALOGUE, module.graph).ins.map((w) => [w.id, w.name]));
  const example = exampleOf(file);
  return module.proofs.map((proof): ProofResult => {
    const name = proofName(proof, (w) => names.get(w) ?? w);
    const { known } = proof;
    const lost = [...Object.keys(proof.dials), ...(proof.kind === 'no-pop' ? [proof.dial] : [])].find(
      (w) => w !== null && !names.has(w),
    );
    const wrong = typeof example === 'string' ? example : lost && `The dial it turns, "${lost}", is gone.`;
    if (typeof example === 'string' || wrong) return { name, known, ok: false, number: NaN, found: wrong ?? '' };
    try {
      return { name, known, ...tryProof(new Trial(example, now), proof) };
    } catch (error) {
      if (!(error instanceof TooLong || error instanceof ProofError)) throw error;
      return { name, known, ok: false, number: NaN, found: error.message };
    }
  });
}

/** A module made nothing on its example: one sentence why. */
class ProofError extends Error {}

type Outcome = Omit<ProofResult, 'name' | 'known'>;

/** The example, evaluated with dials turned. */
class Trial {
  readonly evaluator = new Evaluator(CATALOGUE, { cacheInBytes: 5e7 });
  private readonly begun: number;

  constructor(
    readonly example: Example,
    readonly now: () => number,
  ) {
    this.begun = now();
    this.evaluator.setAsset('example', example.mesh);
  }

  /** What comes out with dials at a frame. @throws ProofError, TooLong */
  at(dials: Readonly<Record<string, InputValue>>, frame = 1): Mesh {
    const project = this.turned(dials);
    const [shown] = shownResults(CATALOGUE, project);
    const wanted = [{ node: shown.node, port: SHOWN_PORT }];
    const checkpoint = () => {
      if (this.now() - this.begun > MOST_MS) throw new TooLong(`It was stopped after ${MOST_MS / 1000} s.`);
    };
    const evaluation = this.evaluator.evaluate({ project, frame, wanted, checkpoint });
    const value = evaluation.value(wanted[0]);
    if (value?.form === 'geometry') return value.mesh;
    const problem = [...evaluation.reports.values()]
      .flatMap((r) => r.problems)
      .find((p) => p.severity === 'error' && p.code !== 'waits');
    throw new ProofError(problem ? problemWords(problem) : 'Nothing comes out.');
  }

  private turned(dials: Readonly<Record<string, InputValue>>): Project {
    const { graph, use, project } = this.example;
    return Object.entries(dials).reduce((p, [way, v]) => setInput(graph, use, way, v)(p), project);
  }
}

const close = (v: number): string => (Number.isFinite(v) ? String(Number(v.toPrecision(3))) : String(v));

/** The largest distance between points of two meshes of one order, and which point it is. */
function farthest(a: Readonly<Float32Array>, b: Readonly<Float32Array>): { most: number; at: number } {
  if (a.length !== b.length) throw new ProofError('The number of points is another.');
  let most = 0;
  let at = 0;
  for (let i = 0; i < a.length; i += 3) {
    const d = Math.hypot(a[i] - b[i], a[i + 1] - b[i + 1], a[i + 2] - b[i + 2]);
    // What is not a number is farther than anything.
    if (Number.isNaN(d)) return { most: NaN, at: i / 3 };
    if (d > most) [most, at] = [d, i / 3];
  }
  return { most, at };
}

function tryProof(trial: Trial, proof: Proof): Outcome {
  const { mesh } = trial.example;
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

/** Steps of an eighth are at least four times as small as whole ones (DECISIONS 27). */
function tryPop(trial: Trial, proof: Extract<Proof, { kind: 'no-pop' }>): Outcome {
  const { dial, from, to } = proof;
  const steps = 6;
  const at = (t: number): Readonly<Float32Array> => {
    const v = from + (to - from) * t;
    return dial === null ? trial.at(proof.dials, v).positions : trial.at({ ...proof.dials, [dial]: v }).positions;
  };
  let whole = 0;
  let eighth = { most: 0, at: 0, t: 0 };
  for (let k = 0; k < steps; k++) {
    const first = at(k / steps);
    let before = first;
    for (let e = 1; e <= 8; e++) {
      const t = (k + e / 8) / steps;
      const now = at(t);
      const step = farthest(before, now);
      if (Number.isNaN(step.most)) throw new ProofError(`Point ${step.at} is not finite at ${close(from + (to - from) * t)}.`);
      if (step.most > eighth.most) eighth = { ...step, t };
      before = now;
    }
    whole = Math.max(whole, farthest(first, before).most);
  }
  const where = from + (to - from) * eighth.t;
  const ok = eighth.most * 4 <= whole || whole < 1e-6;
  return {
    ok,
    number: eighth.most,
    element: eighth.at,
    ...(dial === null && { frame: where }),
    found: `steps of ${close(whole)} m come to ${close(eighth.most)} m at an eighth${ok ? '' : `: it jumps at ${close(where)}`}`,
  };
}

function stretchOf(rest: Mesh, now: Readonly<Float32Array>): { least: number; most: number; at: number } {
  const { points, count } = edgesOf(rest.topology);
  const length = (p: Readonly<Float32Array>, e: number) => {
    const [a, b] = [points[e * 2] * 3, points[e * 2 + 1] * 3];
    return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
  };
  let [least, most, at] = [Infinity, 0, 0];
  for (let e = 0; e < count; e++) {
    const was = length(rest.positions, e);
    if (was === 0) continue;
    const by = length(now, e) / was;
    if (Number.isNaN(by)) return { least: NaN, most: NaN, at: points[e * 2] };
    if (by < least) least = by;
    if (by > most) [most, at] = [by, points[e * 2]];
  }
  return { least, most, at };
}

/** The volume that a closed mesh holds: tetrahedra from the origin to each triangle. */
function volumeOf({ topology, positions: p }: Mesh): number {
  const { points } = trianglesOf(topology);
  let sum = 0;
  for (let t = 0; t < points.length; t += 3) {
    const [a, b, c] = [points[t] * 3, points[t + 1] * 3, points[t + 2] * 3];
    sum +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) -
      p[a + 1] * (p[b] * p[c + 2] - p[b + 2] * p[c]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return sum / 6;
}

/** Places of some points of what comes out, to be recorded for a proof. */
export function recordPlaces(file: ModuleFile, frame: number, count: number): number[] {
  const example = exampleOf(file);
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

/** The best of some runs on a finer example, a dial turned a little at each, as a multiple of copying the positions. */
function tryCost({ example, now }: Trial, dials: Readonly<Record<string, InputValue>>, most: number): Outcome {
  const fine = new Trial({ ...example, mesh: fineMesh(example.example) }, now);
  const copied = fine.at(dials).positions;
  const { dial } = example;
  let ours = Infinity;
  let copy = Infinity;
  for (let round = 1; round <= ROUNDS; round++) {
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
/** Copies of one measurement: one alone is near what a clock tells apart. */
const COPIES = 5;
/** So that copying is not left out. */
let kept = new Float32Array(0);
