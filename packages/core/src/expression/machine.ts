import { outsideLoop, type OutsideCode } from './outside.ts';
import { OPERATIONS, type Operation } from './program.ts';
import { encodeModule, type Code } from './wasm.ts';

/*
 * Programs become machine code through WebAssembly: loops over a chunk with all values in registers. Functions that
 * WebAssembly lacks (sine, exponential, noise …) are run by plain loops between these, over blocks that stay in the
 * processor's cache. Measured on the way, against a hand-written loop: one plain loop per operation over blocks 1.2×
 * with sine and exponential but 5× for sums alone (each access to a typed array costs about as much as three sums);
 * calling Math.sin from inside WebAssembly 1.5×; this 1.1× and 1×.
 */

/** One number per element of an output: `width` numbers stand side by side there, this is number `part`. */
export interface ProgramOutput {
  readonly operation: number;
  readonly lane: number;
  readonly part: number;
  readonly width: 1 | 3;
}

/** Computes a chunk, and tells whether all checked values were finite; numbers at `inputAt[i]` of `inputs[i]` and onwards, the first element being number `first`. */
export type ProgramRunner = (
  inputs: readonly Readonly<Float32Array>[],
  inputAt: Readonly<Int32Array>,
  outputs: readonly Float32Array[],
  outputAt: Readonly<Int32Array>,
  count: number,
  first: number,
) => boolean;

/** What is used of WebAssembly; browsers, workers and Node have it, but no library of types without a DOM. */
interface Memory {
  readonly buffer: ArrayBuffer;
  grow(pages: number): number;
}
const { WebAssembly: machine } = globalThis as unknown as {
  WebAssembly: {
    Memory: new (size: { initial: number }) => Memory;
    Module: new (bytes: Uint8Array<ArrayBuffer>) => object;
    Instance: new (module: object, imports: object) => { readonly exports: Record<string, unknown> };
  };
};

const PAGE = 65_536;
const STAGGER = 192;
/** One memory for all programs: each fills its part of it, runs and reads it out again before another does. */
let memory: Memory | undefined;
function memoryOf(bytes: number): Memory {
  memory ??= new machine.Memory({ initial: 4 });
  const missing = Math.ceil((bytes - memory.buffer.byteLength) / PAGE);
  if (missing > 0) memory.grow(missing);
  return memory;
}

/** The part of a program between two rounds of functions from outside: from Float32 lanes and blocks to blocks. */
type Stage = (end: number, first: number) => number;
const compiled = new Map<string, readonly Stage[]>();
const MOST_COMPILED = 200;

/** What is computed where. */
interface Shape {
  /** Operations that are the same for all elements and are needed by others: given as parameters. */
  readonly steady: readonly number[];
  /** For each stage, what it computes in order, which of it is kept in a block, and what runs outside after it. */
  readonly stages: readonly {
    readonly compute: number[];
    readonly keep: number[];
    readonly outside: number[];
  }[];
  /** Address of the block of an operation that crosses stages, in bytes. */
  readonly blockAt: ReadonlyMap<number, number>;
}

/** Addresses of lanes, in bytes. */
interface Layout {
  readonly lanes: readonly { readonly at: number; readonly width: 1 | 3 }[];
  readonly outputs: readonly { readonly at: number; readonly width: 1 | 3 }[];
}

/**
 * Makes a program ready to run. Programs that differ only in parameters share their machine code.
 * @param parameters values by name. @param lanes where each lane stands among the inputs, and its numbers per element.
 * @param size elements of a chunk at most. @param checks operations whose results, which are
 * Float32 numbers, are looked at for being finite.
 */
export function makeProgramRunner(
  operations: readonly Operation[],
  outputs: readonly ProgramOutput[],
  parameters: Readonly<Record<string, number>>,
  lanes: readonly { readonly at: number; readonly width: 1 | 3 }[],
  size: number,
  checks: readonly number[] = [],
): ProgramRunner {
  // 1. What is computed where, and where it stands in the memory: parameters, blocks, lanes.
  let end = 0;
  // Blocks of whole pages would stand at the same place in their pages, and readings would wait for unrelated writings.
  const place = (bytes: number) => (end += bytes + STAGGER) - bytes - STAGGER;
  const shape = shapeOf(
    operations,
    [...outputs.map((o) => o.operation), ...checks],
    (steady) => place(steady * 8),
    () => place(size * 8),
  );
  const widths: (1 | 3)[] = [];
  for (const o of outputs) widths[o.lane] = o.width;
  const layout: Layout = {
    lanes: lanes.map(({ width }) => ({ at: place(size * width * 4), width })),
    outputs: widths.map((width) => ({ at: place(size * width * 4), width })),
  };
  const shared = memoryOf(end);
  // 2. Machine code.
  const key = JSON.stringify([operations, outputs, layout, checks], exactly);
  let stages = compiled.get(key);
  if (!stages) {
    stages = compile(operations, outputs, shape, layout, shared, checks);
    if (compiled.size >= MOST_COMPILED) compiled.clear();
    compiled.set(key, stages);
  }
  const run = stages;
  const steady = steadyValues(operations, shape.steady, parameters);
  const outside = shape.stages.map((s) =>
    s.outside.map((i) => {
      const { code, of } = operations[i] as { code: OutsideCode; of: readonly number[] };
      const at = (a: number) => (shape.blockAt.get(a) as number) / 8;
      return { loop: outsideLoop(code), out: at(i), of: of.map(at) };
    }),
  );
  return (inputs, inputAt, results, resultAt, count, first) => {
    const floats = new Float32Array(shared.buffer);
    const doubles = new Float64Array(shared.buffer);
    doubles.set(steady);
    layout.lanes.forEach(({ at, width }, i) => {
      const from = inputAt[lanes[i].at];
      floats.set(inputs[lanes[i].at].subarray(from, from + count * width), at / 4);
    });
    let found = 0;
    run.forEach((stage, s) => {
      found += stage(count * 4, first);
      for (const o of outside[s]) o.loop(doubles, o.out, o.of, count);
    });
    layout.outputs.forEach(({ at, width }, lane) => {
      results[lane].set(floats.subarray(at / 4, at / 4 + count * width), resultAt[lane]);
    });
    return found === 0;
  };
}

/** JSON knows no NaN, infinities or −0, but programs that differ in them are different. */
const exactly = (_key: string, value: unknown): unknown =>
  typeof value === 'number' && (!Number.isFinite(value) || Object.is(value, -0))
    ? Object.is(value, -0)
      ? '-0'
      : String(value)
    : value;

/** Values of the steady operations, worked out once. */
function steadyValues(
  operations: readonly Operation[],
  steady: readonly number[],
  parameters: Readonly<Record<string, number>>,
): Float64Array {
  const known = new Map<number, number>();
  const value = (i: number): number => {
    let v = known.get(i);
    if (v === undefined) {
      const o = operations[i];
      if (o.code === 'constant') v = o.value;
      else if (o.code === 'parameter') v = parameters[o.name] ?? NaN;
      else
        v = (OPERATIONS[(o as { code: keyof typeof OPERATIONS }).code] as (...of: number[]) => number)(
          ...(o as { of: readonly number[] }).of.map(value),
        );
      known.set(i, v);
    }
    return v;
  };
  return Float64Array.from(steady, value);
}

const isBare = (o: Operation): boolean => o.code === 'lane' || o.code === 'index';

/** Splits a program into stages. @param placeBlock gives the address of another block */
function shapeOf(
  operations: readonly Operation[],
  wanted: readonly number[],
  placeSteady: (count: number) => number,
  placeBlock: () => number,
): Shape {
  // 1. What is needed, and what is the same for all elements.
  const needed = new Uint8Array(operations.length);
  for (const o of wanted) needed[o] = 1;
  const isSteady = operations.map(() => false);
  operations.forEach((o, i) => {
    isSteady[i] = o.code === 'constant' || o.code === 'parameter' || ('of' in o && o.of.every((a) => isSteady[a]));
  });
  for (let i = operations.length - 1; i >= 0; i--) {
    const o = operations[i];
    if (needed[i] && !isSteady[i] && 'of' in o) for (const a of o.of) needed[a] = 1;
  }
  const steady = operations.flatMap((o, i) => (needed[i] && isSteady[i] && o.code !== 'constant' ? [i] : []));
  placeSteady(steady.length);
  // 2. The stage of each operation: after that of its operands, one later where one comes from outside.
  const stageOf = new Int32Array(operations.length);
  const stages: { compute: number[]; keep: number[]; outside: number[] }[] = [{ compute: [], keep: [], outside: [] }];
  const isOutside = (i: number) => !isSteady[i] && !isBare(operations[i]) && !isInside(operations[i]);
  operations.forEach((o, i) => {
    if (!needed[i] || isSteady[i] || isBare(o) || !('of' in o)) return;
    for (const a of o.of) stageOf[i] = Math.max(stageOf[i], stageOf[a] + (isOutside(a) ? 1 : 0));
    while (stages.length <= stageOf[i]) stages.push({ compute: [], keep: [], outside: [] });
    stages[stageOf[i]][isOutside(i) ? 'outside' : 'compute'].push(i);
  });
  for (const o of wanted)
    if (isOutside(o)) while (stages.length <= stageOf[o] + 1) stages.push({ compute: [], keep: [], outside: [] });
  // 3. Blocks for what crosses from one stage to another or to the outside.
  const blockAt = new Map<number, number>();
  const keep = (i: number) => {
    if (blockAt.has(i)) return;
    blockAt.set(i, placeBlock());
    if (!isOutside(i)) stages[stageOf[i]].keep.push(i);
  };
  operations.forEach((o, i) => {
    if (!needed[i] || isSteady[i] || !('of' in o)) return;
    if (isOutside(i)) [...o.of, i].forEach(keep);
    else for (const a of o.of) if (!isSteady[a] && !isBare(operations[a]) && stageOf[a] < stageOf[i]) keep(a);
  });
  for (const i of wanted) if (!isSteady[i] && !isBare(operations[i]) && (isOutside(i) || stageOf[i] < stages.length - 1)) keep(i);
  return { steady, stages, blockAt };
}

/** Operations that WebAssembly has itself, with the same results to the bit (IEEE 754; NaN and −0 as in JavaScript). */
const NATIVE: Readonly<Record<string, number>> = {
  abs: 0x99,
  negate: 0x9a,
  ceil: 0x9b,
  floor: 0x9c,
  sqrt: 0x9f,
  add: 0xa0,
  subtract: 0xa1,
  multiply: 0xa2,
  divide: 0xa3,
  minimum: 0xa4,
  maximum: 0xa5,
};
const COMPARISONS: Readonly<Record<string, number>> = {
  equal: 0x61,
  unequal: 0x62,
  less: 0x63,
  lessEqual: 0x65,
};
const isInside = (o: Operation): boolean =>
  o.code in NATIVE || o.code in COMPARISONS || o.code === 'choose' || o.code === 'single';

/** The local variables of a stage, before one for each operation. */
const END = 0,
  FIRST = 1,
  AT = 2,
  AT3 = 3,
  AT_BLOCK = 4,
  LOCALS = 5;

function compile(
  operations: readonly Operation[],
  outputs: readonly ProgramOutput[],
  shape: Shape,
  layout: Layout,
  shared: Memory,
  checks: readonly number[],
): readonly Stage[] {
  const { stages, blockAt, steady } = shape;
  const last = stages.length - 1;
  const bodies = stages.map(({ compute, keep }, s) => (c: Code) => {
    const mine = new Set(compute);
    const ready = new Set<number>();
    /** Fetches what a stage does not compute itself into its local, once. */
    const fetch = (i: number, inLoop: boolean) => {
      const o = operations[i];
      const isGiven = o.code === 'constant' || steady.includes(i);
      if (ready.has(i) || mine.has(i) || isGiven === inLoop) return;
      ready.add(i);
      if (o.code === 'constant') c.constant(o.value);
      else if (isGiven) c.loadDoubleAt(steady.indexOf(i) * 8);
      else if (o.code === 'index') c.local(FIRST);
      else if (o.code === 'lane') {
        const { at, width } = layout.lanes[o.lane];
        c.local(width === 1 ? AT : AT3);
        c.loadFloat(at + o.part * 4);
      } else {
        c.local(AT_BLOCK);
        c.loadDouble(blockAt.get(i) as number);
      }
      c.setLocal(LOCALS + i);
    };
    const stored = s === last ? outputs : [];
    const checked = s === last ? checks : [];
    const used = [
      ...compute.flatMap((i) => (operations[i] as { of: readonly number[] }).of),
      ...stored.map((o) => o.operation),
      ...checked,
      ...keep,
    ];
    for (const i of used) fetch(i, false);
    c.loopWhileBelow(AT, END, () => {
      for (const i of compute) {
        for (const a of (operations[i] as { of: readonly number[] }).of) fetch(a, true);
        emit(c, operations[i]);
        c.setLocal(LOCALS + i);
      }
      for (const i of keep) {
        fetch(i, true);
        c.local(AT_BLOCK);
        c.local(LOCALS + i);
        c.storeDouble(blockAt.get(i) as number);
      }
      for (const o of stored) {
        fetch(o.operation, true);
        c.local(o.width === 1 ? AT : AT3);
        c.local(LOCALS + o.operation);
        c.storeFloat(layout.outputs[o.lane].at + o.part * 4);
      }
      checked.forEach((i, k) => {
        fetch(i, true);
        c.local(LOCALS + i);
        c.addToSum(LOCALS + operations.length + k);
      });
      c.addTo(AT, 4);
      c.addTo(AT3, 12);
      c.addTo(AT_BLOCK, 8);
      if (operations.some((o) => o.code === 'index')) c.addOneTo(FIRST);
    });
    c.constant(0);
    checked.forEach((_, k) => {
      // Times 0 it is 0 as long as all were finite, else NaN: a chunk of Float32 numbers does not add up to infinity.
      c.local(LOCALS + operations.length + k);
      c.constant(0);
      c.operation(NATIVE.multiply);
      c.operation(NATIVE.add);
    });
  });
  const module = new machine.Module(encodeModule(operations.length + checks.length, bodies));
  const { exports } = new machine.Instance(module, { from: { memory: shared } });
  return stages.map((_, s) => exports[`run${s}`] as Stage);
}

/** Leaves the result of an operation on the stack. */
function emit(c: Code, o: Operation): void {
  if (!('of' in o)) return;
  if (o.code === 'choose') {
    for (const a of [o.of[1], o.of[2], o.of[0]]) c.local(LOCALS + a);
    c.constant(0);
    c.operation(COMPARISONS.unequal);
    return c.select();
  }
  for (const a of o.of) c.local(LOCALS + a);
  if (o.code === 'single') return c.roundToFloat();
  if (o.code in NATIVE) return c.operation(NATIVE[o.code]);
  c.operation(COMPARISONS[o.code]);
  c.yesToDouble();
}

/**
 * Runs a program element by element without making machine code: for few elements, and as the plain twin of
 * `makeProgramRunner`.
 */
export function runPlainly(
  operations: readonly Operation[],
  outputs: readonly ProgramOutput[],
  parameters: Readonly<Record<string, number>>,
  lanes: readonly { readonly at: number; readonly width: 1 | 3 }[],
  checks: readonly number[] = [],
): ProgramRunner {
  const values = new Float64Array(operations.length);
  return (inputs, inputAt, results, resultAt, count, first) => {
    let isFinite = true;
    for (let k = 0; k < count; k++) {
      operations.forEach((o, i) => {
        if (o.code === 'constant') values[i] = o.value;
        else if (o.code === 'parameter') values[i] = parameters[o.name] ?? NaN;
        else if (o.code === 'index') values[i] = first + k;
        else if (o.code === 'lane') {
          const { at, width } = lanes[o.lane];
          values[i] = inputs[at][inputAt[at] + k * width + o.part];
        } else values[i] = (OPERATIONS[o.code] as (...of: number[]) => number)(...o.of.map((a) => values[a]));
      });
      for (const o of outputs) results[o.lane][resultAt[o.lane] + k * o.width + o.part] = values[o.operation];
      for (const i of checks) if (!Number.isFinite(values[i])) isFinite = false;
    }
    return isFinite;
  };
}
