import { weigh } from '../falloffs/weigh.ts';
import type { ExpressionScope } from '../expression/index.ts';
import type { LaneKind, NodeContext, ObjectView } from './definition.ts';
import { KIND_WORDS } from './kinds.ts';
import type { PlannedUnit } from './plan.ts';
import { pointsOf } from './points-of.ts';
import { NodeError, type Origins, type Problem } from './problems.ts';
import { originsOf } from './resolve.ts';
import { isNumbers, type Value } from './values.ts';

/** What a node's context is made of. */
export interface NodeAccess {
  readonly planned: PlannedUnit;
  readonly scope: ExpressionScope;
  readonly services: {
    floats(count: number): Float32Array;
    integers(count: number): Int32Array;
    checkpoint(): void;
  };
  /** The checked value at an input. @throws NodeError */
  input(port: string): Value | undefined;
  view(object: string): ObjectView | undefined;
  report(problem: Problem): void;
}

/** What a node may ask for while it is evaluated as a whole (not per element). */
export function makeNodeContext(access: NodeAccess): NodeContext {
  const { planned, scope, services } = access;
  const { node } = planned.unit;
  const number = (port: string): number => {
    const v = access.input(port);
    if (!v || v.form !== 'single') {
      throw new NodeError({ code: 'needs-single', port, count: v?.form === 'column' ? v.count : 0 });
    }
    return v.data[0];
  };
  /** The value at an input, which has to be of a form. */
  const need = <F extends Value['form']>(port: string, form: F, needs: string) => {
    const v = access.input(port);
    if (v?.form !== form) throw new NodeError({ code: 'input-missing', port, needs });
    return v as Extract<Value, { form: F }>;
  };
  return {
    settings: node.settings,
    wants: (port) => planned.wanted.has(port),
    input: (port) => access.input(port),
    mesh: (port) => need(port, 'geometry', KIND_WORDS.mesh).mesh,
    curves: (port) => need(port, 'curves', KIND_WORDS.curves).curves,
    copies: (port) => need(port, 'copies', KIND_WORDS.copies).copies,
    falloff: (port) => need(port, 'falloff', KIND_WORDS.falloff).falloff,
    number,
    integer: (port) => Math.round(number(port)),
    toggle: (port) => number(port) !== 0,
    lane: (port, kind, count) => {
      const input = node.inputs.find((p) => p.id === port);
      const value = access.input(port);
      if (value?.form === 'falloff') {
        const on = access.input(input?.weighs ?? 'mesh');
        const points = on && pointsOf(on);
        if (points?.length !== count * 3)
          throw new NodeError({
            code: 'input-missing',
            port: input?.weighs ?? 'mesh',
            needs: KIND_WORDS.geometry,
          });
        return weigh(value.falloff, points, services.floats(count), services.checkpoint);
      }
      const origins = () => originsOf(node, [port, input?.weighs ?? 'mesh']);
      return wholeLane(value, kind, count, input?.label ?? port, services.floats, origins);
    },
    object: (setting) => objectAt(access, setting),
    time: { frame: scope.frame, seconds: scope.seconds, fraction: scope.fraction },
    floats: services.floats,
    integers: services.integers,
    report: access.report,
    checkpoint: services.checkpoint,
  };
}

/** What an object setting takes, in a sentence. */
const OBJECT_WORDS = {
  mesh: 'a mesh object',
  curve: 'a curve object',
  group: 'a group',
  locator: 'a locator',
  any: 'an object',
};

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
      needs: setting?.type === 'object' ? OBJECT_WORDS[setting.takes] : 'an object',
    });
  }
  const view = access.view(chosen);
  if (!view) throw new NodeError({ code: 'object-missing', setting: label });
  if (view.lostSource && takesMesh) throw new NodeError({ code: 'asset-missing', object: view.name });
  return view;
}

/** A column or single as one Float32 lane; singles and numbers are spread. @throws NodeError when counts differ. */
function wholeLane(
  value: Value | undefined,
  kind: LaneKind,
  count: number,
  port: string,
  floats: (count: number) => Float32Array,
  origins: () => Origins,
): Readonly<Float32Array> {
  const width = kind === 'vector' ? 3 : 1;
  if (!value || !isNumbers(value))
    throw new NodeError({ code: 'input-missing', port, needs: KIND_WORDS[kind] });
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
  const out = floats(count * width);
  const { data } = value;
  if (value.form === 'single' && sourceWidth === 1) return out.fill(data[0]);
  const step = value.form === 'single' ? 0 : sourceWidth;
  for (let i = 0, o = 0; i < count; i++) {
    for (let axis = 0; axis < width; axis++, o++) out[o] = data[i * step + (sourceWidth === 3 ? axis : 0)];
  }
  return out;
}
