import type { AttributePlace, AttributeRole } from '../geometry/attributes.ts';
import type { ElementPlan, Kernel, LaneKind } from './definition.ts';
import type { Column, Single } from './values.ts';

/**
 * Chains of per-element nodes are run chunk by chunk: each node writes its part of a chunk into a small Float32
 * buffer that stays in the processor's cache, and only the last one writes a whole column. Every node boundary
 * is Float32 with and without fusing, so results are the same to the bit (DECISIONS 15).
 */
export const CHUNK = 1024;

/** A lane's width in numbers. */
const WIDTH: Record<LaneKind, 1 | 3> = { number: 1, vector: 3 };

/** Who the elements of a chain are. */
export interface Elements {
  readonly count: number;
  readonly on: AttributePlace;
  readonly owner: string;
}

/** What a lane of a link is filled from: a value, or an earlier link of the same chain. */
export type LaneSource =
  { from: 'value'; value: Single | Column } | { from: 'link'; link: Link; output: number };

/** One per-element node, ready to run. */
export interface Link {
  readonly plan: ElementPlan;
  readonly kernel: Kernel;
  /** In the order of `plan.inputs`. */
  readonly sources: readonly LaneSource[];
}

/** Where values stopped being finite. */
export interface NotFinite {
  readonly output: number;
  readonly index: number;
  count: number;
}

export interface ChainResult {
  /** A whole column per output of the last link. */
  readonly outputs: readonly Float32Array[];
  /** Share of the time of each link, summing to 1; measured on every sixteenth chunk. */
  readonly shares: readonly number[];
  /** Per link, the first value of its own making that is not finite, and how many there are. */
  readonly notFinite: readonly (NotFinite | undefined)[];
}

interface Step {
  readonly kernel: Kernel;
  readonly inputs: Readonly<Float32Array>[];
  /** Numbers per element by which the input advances; 0 for buffers that hold one chunk. */
  readonly inputStride: number[];
  readonly inputAt: Int32Array;
  readonly outputs: Float32Array[];
  readonly outputStride: number[];
  readonly outputAt: Int32Array;
  /** Fills buffers that must be refilled for each chunk (integers, numbers spread to three axes). */
  readonly fills: ((start: number, count: number) => void)[];
}

/**
 * Runs links in order over all elements.
 * @param links a chain in order; the last one's outputs are kept, those of the others live for one chunk.
 * @param allocate gives whole columns; @param now a clock in ms.
 * Yields now and then, so that the caller can stop or breathe.
 */
export function* runChain(
  links: readonly Link[],
  elements: Elements,
  allocate: (count: number) => Float32Array,
  now: () => number,
): Generator<void, ChainResult> {
  const { count } = elements;
  const last = links.length - 1;
  const kept = links[last].plan.outputs.map((o) => allocate(count * WIDTH[o.lane]));
  const buffers = new Map<Link, Float32Array[]>();
  links.forEach((link, i) => {
    buffers.set(
      link,
      i === last ? kept : link.plan.outputs.map((o) => new Float32Array(CHUNK * WIDTH[o.lane])),
    );
  });
  const steps = links.map((link, i) => makeStep(link, buffers, i === last));
  const spent = new Float64Array(links.length);
  const notFinite: (NotFinite | undefined)[] = links.map(() => undefined);
  for (let start = 0, chunk = 0; start < count; start += CHUNK, chunk++) {
    if (chunk % 64 === 63) yield;
    const size = Math.min(CHUNK, count - start);
    const sampled = chunk % 16 === 0;
    let told = false;
    for (let i = 0; i < steps.length; i++) {
      const before = sampled ? now() : 0;
      runStep(steps[i], start, size);
      // Only the first link that spoils a chunk is to blame; what follows merely passes it on.
      if (!told) told = findNotFinite(notFinite, i, steps[i], links[i], start, size);
      if (sampled) spent[i] += now() - before;
    }
  }
  const total = spent.reduce((a, b) => a + b, 0);
  const shares = Array.from(spent, (s) => (total > 0 ? s / total : 1 / links.length));
  return { outputs: kept, shares, notFinite };
}

function runStep(step: Step, start: number, count: number): void {
  for (const fill of step.fills) fill(start, count);
  for (let i = 0; i < step.inputAt.length; i++) step.inputAt[i] = start * step.inputStride[i];
  for (let j = 0; j < step.outputAt.length; j++) step.outputAt[j] = start * step.outputStride[j];
  step.kernel(step.inputs, step.inputAt, step.outputs, step.outputAt, count, start);
}

function makeStep(link: Link, buffers: ReadonlyMap<Link, Float32Array[]>, keeps: boolean): Step {
  const step: Step = {
    kernel: link.kernel,
    inputs: [],
    inputStride: [],
    inputAt: new Int32Array(link.sources.length),
    outputs: buffers.get(link) as Float32Array[],
    outputStride: link.plan.outputs.map((o) => (keeps ? WIDTH[o.lane] : 0)),
    outputAt: new Int32Array(link.plan.outputs.length),
    fills: [],
  };
  link.sources.forEach((source, i) => {
    const width = WIDTH[link.plan.inputs[i].lane];
    const add = (data: Readonly<Float32Array>, stride: number) => {
      step.inputs.push(data);
      step.inputStride.push(stride);
    };
    if (source.from === 'link') {
      const data = (buffers.get(source.link) as Float32Array[])[source.output];
      if (WIDTH[source.link.plan.outputs[source.output].lane] === width) return add(data, 0);
      const spread = new Float32Array(CHUNK * 3);
      step.fills.push((_start, count) => spreadNumbers(spread, data, 0, count));
      return add(spread, 0);
    }
    const { value } = source;
    if (value.form === 'single') return add(constantLane(value, width), 0);
    const data = value.data;
    const valueWidth = value.kind === 'vector' ? 3 : 1;
    if (valueWidth === width && data instanceof Float32Array) return add(data, width);
    const buffer = new Float32Array(CHUNK * width);
    step.fills.push((start, count) => {
      if (width === 3) spreadNumbers(buffer, data, start, count);
      else for (let k = 0; k < count; k++) buffer[k] = data[start + k];
    });
    return add(buffer, 0);
  });
  return step;
}

/** A single spread over a chunk, rounded to Float32 as a column of it would be. */
function constantLane(value: Single, width: number): Float32Array {
  const lane = new Float32Array(CHUNK * width);
  for (let k = 0; k < lane.length; k++) lane[k] = value.data.length === 1 ? value.data[0] : value.data[k % 3];
  return lane;
}

function spreadNumbers(
  out: Float32Array,
  data: Readonly<Float32Array | Int32Array>,
  start: number,
  count: number,
): void {
  for (let k = 0, o = 0; k < count; k++, o += 3) {
    const v = data[start + k];
    out[o] = v;
    out[o + 1] = v;
    out[o + 2] = v;
  }
}

/** Whether data[from .. to − 1] are all finite: x · 0 is 0 for finite x and NaN otherwise, so sums tell it. */
export function allFinite(data: Readonly<Float32Array>, from: number, to: number): boolean {
  let a = 0, b = 0, c = 0, d = 0; // prettier-ignore
  let i = from;
  for (; i + 3 < to; i += 4) {
    a += data[i] * 0;
    b += data[i + 1] * 0;
    c += data[i + 2] * 0;
    d += data[i + 3] * 0;
  }
  for (; i < to; i++) a += data[i] * 0;
  return a + b + c + d === 0;
}

/** Looks through what a link wrote for this chunk; notes and tells what is not finite. */
function findNotFinite(
  found: (NotFinite | undefined)[],
  i: number,
  step: Step,
  link: Link,
  start: number,
  size: number,
): boolean {
  let any = false;
  for (let j = 0; j < step.outputs.length; j++) {
    const data = step.outputs[j];
    const width = WIDTH[link.plan.outputs[j].lane];
    const from = step.outputAt[j];
    const to = from + size * width;
    if (allFinite(data, from, to)) continue;
    any = true;
    for (let k = from; k < to; k++) {
      if (Number.isFinite(data[k])) continue;
      const known = found[i];
      if (known) known.count++;
      else found[i] = { output: j, index: start + Math.floor((k - from) / width), count: 1 };
    }
  }
  return any;
}

/** The role of a chain's output: what its plan says, or plain. */
export const outputRole = (plan: ElementPlan, output: number): AttributeRole =>
  plan.outputs[output].role ?? 'plain';
