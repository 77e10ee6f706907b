import { TAKES_WORDS } from '../../project/kinds/index.ts';
import { newMatrix } from '../../maths/matrix.ts';
import { weigh } from '../../falloffs/weigh.ts';
import type { RemovedRecord } from '../../project/schema.ts';
import type { InputPort, LaneKind, LaneView, NodeContext, ObjectView } from '../node/definition.ts';
import { KIND_WORDS } from '../node/kinds.ts';
import { noWeight, type Weighed } from '../node/no-weight.ts';
import { earlierPort, type Moment } from './outline.ts';
import type { PlannedUnit } from './plan.ts';
import { pointsOf } from '../node/points-of.ts';
import { NodeError, type Origins, type Problem } from '../node/problems.ts';
import { originsOf } from '../network/resolve.ts';
import { addBuffers } from './buffers.ts';
import type { Store } from './store.ts';
import { isNumbers, type Value } from '../node/values.ts';

/** What a node's context is made of. */
export interface NodeAccess {
  readonly planned: PlannedUnit;
  readonly context: {
    floats(count: number): Float32Array;
    room(count: number): Float32Array;
    doubles(count: number): Float64Array;
    giveBack(array: Float32Array): void;
    integers(count: number): Int32Array;
    checkpoint(): void;
    view(object: string, moment: Moment): ObjectView | undefined;
    /** What is known of an object that was removed but is still read. */
    removed(object: string): RemovedRecord | undefined;
    readonly store: Pick<Store, 'takeOver'>;
  };
  /** The checked value at an input; columns of a chain only reach nodes that run chunk by chunk. @throws NodeError */
  inputAt(port: string): { readonly form: string } | undefined;
  readonly entry: { add(problem: Problem): void };
}

const inputOf = (access: NodeAccess, port: string) => access.inputAt(port) as Value | undefined;

/** What a node may ask for while it is evaluated as a whole (not per element). */
export class EvaluatedNode implements NodeContext {
  /** What it was lent to work in, and columns that were made for it to read. */
  private lent: Float32Array[] | undefined;
  private read: Float32Array[] | undefined;
  /** It was told that some output is not wanted. */
  hasLeftOut = false;

  constructor(private readonly access: NodeAccess) {}

  /** The node is done: what it worked in is taken back, and what it read, unless that is part of what it puts out. */
  giveBack(values: Readonly<Record<string, Value>>): void {
    const { context } = this.access;
    for (const array of this.lent ?? []) context.giveBack(array);
    if (this.read) {
      const buffers = new Set<ArrayBufferLike>();
      for (const port in values) addBuffers(buffers, values[port]);
      for (const array of this.read) if (!buffers.has(array.buffer)) context.giveBack(array);
    }
    this.lent = this.read = undefined;
  }

  get settings() {
    return this.access.planned.unit.node.settings;
  }

  get time() {
    const { frame, seconds, fraction } = this.access.planned.moment.scope;
    return { frame, seconds, fraction };
  }

  // These are handed on by themselves to whatever runs long.
  get floats() {
    return this.access.context.floats;
  }

  get room() {
    return this.access.context.room;
  }

  get scratch() {
    return (count: number) => {
      const array = this.access.context.room(count);
      (this.lent ??= []).push(array);
      return array;
    };
  }

  get integers() {
    return this.access.context.integers;
  }

  get checkpoint() {
    return this.access.context.checkpoint;
  }

  get report() {
    return (problem: Problem) => void this.access.entry.add(problem);
  }

  wants(port: string) {
    const isWanted = this.access.planned.wants(port);
    if (!isWanted) this.hasLeftOut = true;
    return isWanted;
  }

  input(port: string) {
    return inputOf(this.access, port);
  }

  earlier(port: string, frames: number) {
    return inputOf(this.access, earlierPort(port, frames));
  }

  matrices(count: number, ...over: readonly string[]) {
    const { planned, context } = this.access;
    for (const port of over) {
      const mine = context.store.takeOver(planned, port, count);
      if (mine) return mine;
    }
    return count === 1 ? newMatrix() : context.doubles(count * 16);
  }

  mesh(port: string) {
    return this.need(port, 'geometry', KIND_WORDS.mesh).mesh;
  }

  curves(port: string) {
    return this.need(port, 'curves', KIND_WORDS.curves).curves;
  }

  copies(port: string) {
    return this.need(port, 'copies', KIND_WORDS.copies).copies;
  }

  chain(port: string) {
    return this.need(port, 'chain', KIND_WORDS.chain).chain;
  }

  falloff(port: string) {
    return this.need(port, 'falloff', KIND_WORDS.falloff).falloff;
  }

  number(port: string) {
    const number = this.one(port);
    // What a node makes of it may be finite all the same.
    if (!Number.isFinite(number)) this.report({ code: 'input-not-finite', port: this.label(port), severity: 'warning' });
    return number;
  }

  integer(port: string) {
    const value = Math.round(this.one(port));
    if (!Number.isFinite(value)) throw new NodeError({ code: 'input-not-finite', port: this.label(port) });
    return value;
  }

  /** The one value at an input. */
  private one(port: string): number {
    const v = inputOf(this.access, port);
    if (v?.form !== 'single') throw new NodeError({ code: 'needs-single', port, count: v?.form === 'column' ? v.count : 0 });
    return v.data[0];
  }

  label(port: string) {
    return this.access.planned.unit.node.inputs.find((p) => p.id === port)?.label ?? port;
  }

  toggle(port: string) {
    return this.number(port) !== 0;
  }

  view(port: string, kind: LaneKind, count: number): LaneView {
    const width = kind === 'vector' ? 3 : 1;
    const value = inputOf(this.access, port);
    const isOne = value?.form === 'single' && value.kind !== 'matrix';
    return isOne ? { data: this.lane(port, kind, 1), step: 0 } : { data: this.lane(port, kind, count), step: width };
  }

  lane(port: string, kind: LaneKind, count: number) {
    const { access } = this;
    const { node } = access.planned.unit;
    const { checkpoint } = access.context;
    const room = (size: number) => {
      const array = access.context.room(size);
      (this.read ??= []).push(array);
      return array;
    };
    const input = node.inputs.find((p) => p.id === port);
    const value = inputOf(access, port);
    if (value?.form === 'falloff') {
      const on = inputOf(access, input?.weighs ?? 'mesh');
      const points = on && pointsOf(on);
      if (points?.length !== count * 3)
        throw new NodeError({
          code: 'input-missing',
          port: input?.weighs ?? 'mesh',
          needs: KIND_WORDS.geometry,
        });
      const weights = weigh(value.falloff, points, room(count), checkpoint);
      this.tellNone(input, weights, { falloff: value.falloff, points });
      return weights;
    }
    const origins = () => originsOf(node, [port, input?.weighs ?? 'mesh']);
    const lane = wholeLane(value, kind, count, input?.label ?? port, room, origins);
    if (value?.form === 'column') this.tellNone(input, lane);
    return lane;
  }

  private tellNone(input: InputPort | undefined, weights: Readonly<Float32Array>, weighed?: Weighed): void {
    const none = input && noWeight(input, weights, weighed);
    if (none) this.report(none);
  }

  object(setting: string) {
    return objectAt(this.access, setting);
  }

  /** The value at an input, which has to be of a form. */
  private need<F extends Value['form']>(port: string, form: F, needs: string) {
    const v = inputOf(this.access, port);
    if (v?.form !== form) throw new NodeError({ code: 'input-missing', port, needs });
    return v as Extract<Value, { form: F }>;
  }
}

function objectAt(access: NodeAccess, id: string): ObjectView {
  const { node } = access.planned.unit;
  const setting = node.definition?.settings.find((s) => s.id === id);
  const chosen = node.settings[id];
  const label = setting?.label ?? id;
  const takesMesh = setting?.type === 'object' && setting.takes === 'mesh';
  if (typeof chosen !== 'string') {
    throw new NodeError({
      code: 'object-unset',
      setting: label,
      needs: setting?.type === 'object' ? TAKES_WORDS[setting.takes] : 'an object',
    });
  }
  const view = access.context.view(chosen, access.planned.moment);
  if (!view) throw new NodeError({ code: 'object-missing', setting: label });
  const kept = access.context.removed(chosen);
  if (kept) access.entry.add({ code: 'frozen', frames: kept.frames, severity: 'warning' });
  if (view.lostSource && takesMesh) throw new NodeError({ code: 'asset-missing', object: view.name });
  return view;
}

/** A column or single as one Float32 lane; singles and numbers are spread. @throws NodeError when counts differ. */
function wholeLane(
  value: Value | undefined,
  kind: LaneKind,
  count: number,
  port: string,
  room: (count: number) => Float32Array,
  origins: () => Origins,
): Readonly<Float32Array> {
  const width = kind === 'vector' ? 3 : 1;
  if (!value || !isNumbers(value)) throw new NodeError({ code: 'input-missing', port, needs: KIND_WORDS[kind] });
  const sourceWidth = value.kind === 'vector' ? 3 : 1;
  if (value.form === 'column') {
    if (value.count !== count)
      throw new NodeError({
        code: 'column-fit',
        port,
        count: value.count,
        points: count,
        origins: origins(),
      });
    if (sourceWidth === width && value.data instanceof Float32Array) return value.data;
  }
  const out = room(count * width);
  const { data } = value;
  if (value.form === 'single' && sourceWidth === 1) return out.fill(data[0]);
  const step = value.form === 'single' ? 0 : sourceWidth;
  for (let i = 0, o = 0; i < count; i++) {
    for (let axis = 0; axis < width; axis++, o++) out[o] = data[i * step + (sourceWidth === 3 ? axis : 0)];
  }
  return out;
}
