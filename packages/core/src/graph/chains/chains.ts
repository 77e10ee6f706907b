import { allFinite } from '../../maths/finite.ts';
import type { AttributeRole } from '../../geometry/attributes.ts';
import type { ElementPlan, Kernel } from '../node/definition.ts';
import { CHUNK, isProgram, WIDTH, type Elements, type LaneSource, type Link } from './links.ts';
import { makeSegment, type Segment } from './segments.ts';
import type { Single } from '../node/values.ts';

/*
 * Chains of per-element nodes are run chunk by chunk: each node writes its part of a chunk into a small Float32
 * buffer that stays in the processor's cache, and only the last one writes a whole column; programs that follow each
 * other do not even do that, they become one loop (`segments.ts`). Every node boundary is Float32 with and without fusing, so results are the same to the bit (DECISIONS 15).
 */

/** Where values stopped being finite. */
export interface NotFinite {
  readonly output: number;
  readonly index: number;
  count: number;
}

export interface ChainResult {
  /** A whole column per output of the last link. */
  readonly outputs: readonly Float32Array[];
  /** Share of the time of each link, summing to 1; measured on every eighth chunk. */
  readonly shares: readonly number[];
  /** Per link, the first value of its own making that is not finite, and how many there are. */
  readonly notFinite: readonly (NotFinite | undefined)[];
}

/** A loop over chunks with what it reads and writes: one kernel, or a segment of programs. */
interface Step {
  /** False when some value was not finite, as far as it looks; kernels do not. */
  readonly run: (...of: Parameters<Kernel>) => boolean;
  readonly segment: Segment | undefined;
  /** The links it computes, by their number in the chain. */
  readonly links: readonly number[];
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
 * Runs links in order over all elements; programs that follow each other run as one.
 * @param links a chain in order; the last one's outputs are kept, those of the others live for one chunk.
 * @param allocate gives whole columns; @param now a clock in ms. @param scope names that programs may use: time.
 * Yields now and then, so that the caller can stop or breathe.
 */
export function* runChain(
  links: readonly Link[],
  elements: Elements,
  allocate: (count: number) => Float32Array,
  now: () => number,
  scope: Readonly<Record<string, number>>,
): Generator<void, ChainResult> {
  const { count } = elements;
  const last = links[links.length - 1];
  const kept = last.plan.outputs.map((o) => allocate(count * WIDTH[o.lane]));
  const buffers = new Map<Link, Float32Array[]>([[last, kept]]);
  const steps = makeSteps(links, buffers, { ...scope, count }, count);
  const spent = new Float64Array(links.length);
  const notFinite: (NotFinite | undefined)[] = links.map(() => undefined);
  for (let start = 0, chunk = 0; start < count; start += CHUNK, chunk++) {
    if (chunk % 16 === 15) yield;
    const size = Math.min(CHUNK, count - start);
    const sampled = chunk % 8 === 0;
    // Only the first link that spoils a chunk is to blame; what follows merely passes it on.
    let told = false;
    for (const step of steps) {
      const before = sampled ? now() : 0;
      const clean = runStep(step, start, size);
      if (!told && !(clean && step.segment)) told = findNotFinite(notFinite, step, links, start, size);
      if (!sampled) continue;
      const cost = now() - before;
      step.links.forEach((link, i) => (spent[link] += cost * (step.segment?.shares[i] ?? 1)));
    }
  }
  const total = spent.reduce((a, b) => a + b, 0);
  const shares = Array.from(spent, (s) => (total > 0 ? s / total : 1 / links.length));
  return { outputs: kept, shares, notFinite };
}

function runStep(step: Step, start: number, count: number): boolean {
  for (const fill of step.fills) fill(start, count);
  for (let i = 0; i < step.inputAt.length; i++) step.inputAt[i] = start * step.inputStride[i];
  for (let j = 0; j < step.outputAt.length; j++) step.outputAt[j] = start * step.outputStride[j];
  return step.run(step.inputs, step.inputAt, step.outputs, step.outputAt, count, start);
}

/** More links are not put into one program: a function has a limited number of values. */
const MOST_TOGETHER = 12;

/** Puts neighbouring programs together; makes a step of each group, and of each kernel. */
function makeSteps(
  links: readonly Link[],
  buffers: Map<Link, Float32Array[]>,
  parameters: Readonly<Record<string, number>>,
  count: number,
): Step[] {
  const steps: Step[] = [];
  for (let i = 0; i < links.length;) {
    let end = i + 1;
    if (isProgram(links[i])) while (end < links.length && end - i < MOST_TOGETHER && isProgram(links[end])) end++;
    const group = links.slice(i, end);
    const after = links.slice(end);
    const isStored = (link: Link) =>
      after.length === 0
        ? link === links[links.length - 1]
        : after.some((l) => l.sources.some((s) => s.from === 'link' && s.link === link));
    const segment = group.every(isProgram) ? makeSegment(group, isStored, parameters, count) : undefined;
    const stored = segment?.stored ?? group.flatMap((link) => link.plan.outputs.map((_, output) => ({ link, output })));
    const kernel = 'kernel' in group[0] ? group[0].kernel : undefined;
    const step: Step = {
      run: segment?.run ?? ((...of) => (kernel?.(...of), false)),
      segment,
      links: group.map((_, k) => i + k),
      inputs: [],
      inputStride: [],
      inputAt: new Int32Array(segment ? segment.lanes.length : group[0].sources.length),
      outputs: [],
      outputStride: [],
      outputAt: new Int32Array(stored.length),
      fills: [],
    };
    for (const { link, output } of stored) {
      const width = WIDTH[link.plan.outputs[output].lane];
      const own = buffers.get(link) ?? [];
      // The last link writes whole columns, the others one chunk.
      const isKept = link === links[links.length - 1];
      own[output] ??= new Float32Array(CHUNK * width);
      buffers.set(link, own);
      step.outputs.push(own[output]);
      step.outputStride.push(isKept ? width : 0);
    }
    const lanes = segment?.lanes ?? group[0].sources.map((source, k) => ({ source, width: WIDTH[group[0].plan.inputs[k].lane] }));
    for (const { source, width } of lanes) addInput(step, source, width, buffers);
    steps.push(step);
    i = end;
  }
  return steps;
}

/** Where a step finds one of its lanes. */
function addInput(step: Step, source: LaneSource, width: 1 | 3, buffers: ReadonlyMap<Link, Float32Array[]>): void {
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
}

/** A single spread over a chunk, rounded to Float32 as a column of it would be. */
function constantLane(value: Single, width: number): Float32Array {
  const lane = new Float32Array(CHUNK * width);
  for (let k = 0; k < lane.length; k++) lane[k] = value.data.length === 1 ? value.data[0] : value.data[k % 3];
  return lane;
}

function spreadNumbers(out: Float32Array, data: Readonly<Float32Array | Int32Array>, start: number, count: number): void {
  for (let k = 0, o = 0; k < count; k++, o += 3) {
    const v = data[start + k];
    out[o] = v;
    out[o + 1] = v;
    out[o + 2] = v;
  }
}

/** Looks through what a step computed for this chunk, link by link; notes the first that is not finite, and tells. */
function findNotFinite(
  found: (NotFinite | undefined)[],
  step: Step,
  links: readonly Link[],
  start: number,
  size: number,
): boolean {
  const { segment } = step;
  if (!segment) return lookThrough(found, step.links[0], links[step.links[0]], step.outputs, step.outputAt, start, size);
  // Values between the links of a segment were never stored: this chunk is computed again with all of them.
  const outputs = segment.all.map((o) => new Float32Array(CHUNK * WIDTH[o.link.plan.outputs[o.output].lane]));
  const none = new Int32Array(outputs.length);
  segment.runAll()(step.inputs, step.inputAt, outputs, none, size, start);
  for (const at of step.links) {
    const mine = outputs.filter((_, i) => segment.all[i].link === links[at]);
    if (lookThrough(found, at, links[at], mine, none, start, size)) return true;
  }
  return false;
}

function lookThrough(
  found: (NotFinite | undefined)[],
  at: number,
  link: Link,
  outputs: readonly Float32Array[],
  outputAt: Readonly<Int32Array>,
  start: number,
  size: number,
): boolean {
  let any = false;
  for (let j = 0; j < outputs.length; j++) {
    const data = outputs[j];
    const width = WIDTH[link.plan.outputs[j].lane];
    const from = outputAt[j];
    const to = from + size * width;
    if (allFinite(data, from, to)) continue;
    any = true;
    for (let k = from; k < to; k++) {
      if (Number.isFinite(data[k])) continue;
      const known = found[at];
      if (known) known.count++;
      else found[at] = { output: j, index: start + Math.floor((k - from) / width), count: 1 };
    }
  }
  return any;
}

/** The role of a chain's output: what its plan says, or plain. */
export const outputRole = (plan: ElementPlan, output: number): AttributeRole => plan.outputs[output].role ?? 'plain';
