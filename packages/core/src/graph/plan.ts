import { hashText } from '../hash.ts';
import {
  dependsOnTime,
  ExpressionError,
  parseExpression,
  timeScope,
  type ExpressionScope,
} from '../expression/index.ts';
import { memoize } from '../memo.ts';
import type { InputValue, NumberSource, ObjectRecord, Project } from '../project/schema.ts';
import { animatedAt, channelValue, objectsAt } from '../scene/channels.ts';
import {
  localMatrix,
  membersOf,
  objectsById,
  parentMatrix,
  worldMatrix,
  type ObjectsById,
} from '../scene/world.ts';
import { typedInput, type FacetRef, type InputPort } from './definition.ts';
import { facetGraph, facetVertex, type FacetGraph, type Unit, type Vertex } from './facets.ts';
import type { PortRef } from './resolve.ts';
import type { Problem } from './problems.ts';
import { SHOWN_PORT } from '../nodes/index.ts';

/** A typed input at a frame: its numbers, or what is wrong with its expression. */
export interface TypedNumbers {
  readonly numbers: readonly number[];
  readonly problem?: Problem;
  readonly timed: boolean;
}

/** A frame that something is worked out at, with what depends on nothing but it. */
export interface Moment {
  readonly frame: number;
  readonly scope: ExpressionScope;
  /** Objects with their keys and expressions worked out. */
  readonly objects: ObjectsById;
}

/** A unit to be evaluated, with its key and how it is to be run. */
export interface PlannedUnit {
  readonly unit: Unit;
  /** The frame it is worked out at: the plan's, but for what At Frame asks for. */
  readonly moment: Moment;
  readonly key: string;
  /** What it depends on outside graphs: object facets, time, and itself when it makes something from nothing. */
  readonly sources: string;
  /** Units it takes values from, by input port: the unit, the output, or undefined when the wire leads nowhere. */
  readonly inputs: ReadonlyMap<string, { unit: PlannedUnit | undefined; port: string; node: string }>;
  readonly typed: ReadonlyMap<string, TypedNumbers>;
  /** Ports somebody needs. */
  readonly wanted: Set<string>;
  /** The last link of the chain it is fused into; itself when it keeps its columns. */
  tail: PlannedUnit;
  readonly loop: readonly string[] | undefined;
}

/** What is asked for at a frame, in the order it is to be evaluated. */
export interface Plan {
  readonly project: Project;
  /** The frame asked for. */
  readonly moment: Moment;
  readonly facets: FacetGraph;
  /** Dependencies first. */
  readonly order: readonly PlannedUnit[];
  /** By `placedVertex`. */
  readonly placed: ReadonlyMap<string, PlannedUnit>;
  /** Whether the mesh of an asset is at hand. */
  hasAsset(id: string): boolean;
}

const setsText = memoize((sets: object) => JSON.stringify(sets));
const curveText = memoize((curve: object) => hashText(JSON.stringify(curve)));
const settingsText = memoize((settings: object) => JSON.stringify(settings));

/**
 * Orders what the wanted ports depend on, and gives every unit its key (DECISIONS 9):
 * hash of type, version, settings, typed inputs at this frame, keys of inputs, and the facets it reads.
 */
export function makePlan(
  project: Project,
  frame: number,
  wanted: readonly PortRef[],
  hasAsset: (id: string) => boolean,
): Plan {
  const facets = facetGraph(project);
  const placed = new Map<string, PlannedUnit>();
  const order: PlannedUnit[] = [];
  const moment = momentOf(project, frame);
  const plan: Plan = { project, moment, facets, order, placed, hasAsset };
  const moments = new Map<number, Moment>([[frame, moment]]);
  const at = (f: number): Moment => {
    let found = moments.get(f);
    if (!found) moments.set(f, (found = momentOf(project, f)));
    return found;
  };
  const opened = new Set<string>();
  const starts = wanted
    .map((w) => facets.unitOfPort.get(`${w.node}.${w.port}`))
    .filter((v) => v !== undefined);
  for (const start of starts) {
    const stack = [{ v: start, moment }];
    while (stack.length > 0) {
      const top = stack[stack.length - 1];
      const { v } = top;
      const unit = facets.units.get(v);
      const name = placedVertex(v, top.moment);
      if (!unit || placed.has(name)) {
        stack.pop();
        continue;
      }
      const loop = facets.loops.get(v);
      const { frame: now } = top.moment;
      const { definition, settings } = unit.node;
      const before = at(definition?.readsFrame?.(settings, now) ?? now);
      const missing = opened.has(name)
        ? []
        : unitsBefore(facets, v).filter((d) => !placed.has(placedVertex(d, before)));
      opened.add(name);
      if (missing.length > 0) {
        stack.push(...missing.map((d) => ({ v: d, moment: before })));
        continue;
      }
      stack.pop();
      const planned = planUnit(plan, unit, top.moment, before, loop);
      placed.set(name, planned);
      order.push(planned);
    }
  }
  for (const w of wanted) plannedAt(plan, w, moment)?.wanted.add(w.port);
  return plan;
}

function momentOf(project: Project, frame: number): Moment {
  return {
    frame,
    scope: timeScope(frame, project.frameRate, project.range),
    objects: objectsAt(project, frame),
  };
}

/** A vertex at a moment. */
const placedVertex = (v: Vertex, moment: Moment): string => `${moment.frame} ${v}`;

/** The unit of an output at a moment, when it is in the plan. */
export function plannedAt(
  plan: Pick<Plan, 'facets' | 'placed'>,
  { node, port }: PortRef,
  moment: Moment,
): PlannedUnit | undefined {
  const v = plan.facets.unitOfPort.get(`${node}.${port}`);
  return v === undefined ? undefined : plan.placed.get(placedVertex(v, moment));
}

/** Units a vertex needs first: those it depends on directly, and those behind the facets it reads. */
function unitsBefore(facets: FacetGraph, v: Vertex): Vertex[] {
  const found: Vertex[] = [];
  const seen = new Set<Vertex>([v]);
  const stack = [...(facets.dependencies.get(v) ?? [])];
  while (stack.length > 0) {
    const d = stack.pop() as Vertex;
    if (seen.has(d)) continue;
    seen.add(d);
    if (facets.units.has(d)) found.push(d);
    else stack.push(...(facets.dependencies.get(d) ?? []));
  }
  return found;
}

/** A unit that drives parts of an object, and which. */
export interface Driving {
  readonly unit: PlannedUnit;
  readonly channels: readonly (string | undefined)[];
}

/** The units that drive an object; a part that two of them make is made by none. */
export function drivingUnits(plan: Plan, object: string, moment: Moment): Driving[] {
  const drivers = plan.facets.drivers.get(object) ?? [];
  const found = new Map<PlannedUnit, (string | undefined)[]>();
  for (const { node, channel } of drivers) {
    if (drivers.some((d) => d.channel === channel && d.node !== node)) continue;
    const unit = plannedAt(plan, { node: node.record.id, port: SHOWN_PORT }, moment);
    if (unit) found.set(unit, [...(found.get(unit) ?? []), channel]);
  }
  return [...found].map(([unit, channels]) => ({ unit, channels }));
}

/** The unit that makes an object's result, when exactly one does. */
export function resultUnit(plan: Plan, object: string, moment: Moment): PlannedUnit | undefined {
  const writers = plan.facets.writers.get(object) ?? [];
  if (writers.length !== 1) return undefined;
  return plannedAt(plan, { node: writers[0].record.id, port: SHOWN_PORT }, moment);
}

function planUnit(
  plan: Plan,
  unit: Unit,
  moment: Moment,
  before: Moment,
  loop: readonly string[] | undefined,
): PlannedUnit {
  const { node } = unit;
  const { record, definition, settings } = node;
  const inputs = new Map<string, { unit: PlannedUnit | undefined; port: string; node: string }>();
  const typed = new Map<string, TypedNumbers>();
  const parts: string[] = [
    record.type,
    String(definition?.version ?? record.version),
    settingsText(settings),
    record.skip ? 'skip' : '',
  ];
  const sources = new Set<string>();
  for (const port of node.inputs) {
    const wire = node.wires.get(port.id);
    if (wire) {
      const source = plannedAt(plan, wire.from, before);
      inputs.set(port.id, { unit: source, port: wire.from.port, node: wire.from.node });
      parts.push(port.id, source ? `${source.key}.${wire.from.port}` : `?${wire.from.node}`);
      if (source) for (const s of source.sources.split('|')) if (s) sources.add(s);
      continue;
    }
    const value = typedInput(port, record);
    if (value === undefined) continue;
    const numbers = typedNumbers(port, value, moment.scope);
    typed.set(port.id, numbers);
    parts.push(port.id, numbers.problem ? `!${JSON.stringify(value)}` : numbers.numbers.join(','));
    if (numbers.timed) sources.add('time');
  }
  for (const read of unit.reads) {
    parts.push(facetKey(plan, read, moment));
    sources.add(facetVertex(read));
  }
  if (definition?.readsTime?.(settings)) {
    parts.push(
      `frame ${moment.frame}/${plan.project.frameRate}/${plan.project.range.first}-${plan.project.range.last}`,
    );
    sources.add('time');
  }
  const writes = definition?.writesResultOf?.(settings);
  if (writes && (plan.facets.writers.get(writes)?.length ?? 0) > 1) parts.push('two writers');
  if (loop) parts.push(`loop ${record.id}`, ...loop);
  const planned: PlannedUnit = {
    unit,
    moment,
    key: hashText(parts.join('\u0001')),
    sources: [...sources].sort().join('|'),
    inputs,
    typed,
    wanted: new Set(),
    tail: undefined as unknown as PlannedUnit,
    loop,
  };
  planned.tail = planned;
  return planned;
}

function facetKey(plan: Plan, read: FacetRef, moment: Moment): string {
  const object = moment.objects.get(read.object);
  if (!object) return 'gone';
  switch (read.facet) {
    case 'source':
      return sourceKey(plan, object);
    case 'result': {
      const made = resultUnit(plan, read.object, moment);
      return made ? `result ${made.key}` : `none ${object.mesh}`;
    }
    case 'rest':
      return `rest ${worldMatrix(moment.objects, object.id, 'rest').join(',')}`;
    case 'restChannels':
      return `own ${localMatrix(object, 'rest').join(',')} ${object.pivot.join(',')}`;
    case 'restMembers':
      return restMembersKey(plan.project.objects)(object.id);
    case 'members':
      return membersOf(plan.project.objects, object.id)
        .map((m) =>
          [
            m.id,
            sourceKey(plan, m),
            ...(['world', 'rest', 'result'] as const).map((facet) =>
              facetKey(plan, { object: m.id, facet }, moment),
            ),
          ].join(),
        )
        .join(';');
    case 'channel': {
      const made = drivingUnits(plan, object.id, moment).find((d) => d.channels.includes(read.channel));
      return `channel ${made?.unit.key ?? channelValue(object, read.channel ?? '')}`;
    }
    case 'parent': {
      const above = object.parent === null ? undefined : moment.objects.get(object.parent);
      return `parent ${parentMatrix(moment.objects, object).join(',')} ${above ? drivingKeys(plan, above, moment) : ''}`;
    }
    default:
      return `world ${worldMatrix(moment.objects, object.id).join(',')} ${drivingKeys(plan, object, moment)}`;
  }
}

/** Where the members of groups rest, as text: kept with the objects, since it does not depend on the frame. */
const restMembersKey = memoize((objects: Project['objects']) => {
  const byId = objectsById(objects);
  const known = new Map<string, string>();
  return (group: string): string => {
    let key = known.get(group);
    if (key === undefined) {
      const all = objects.filter((o) => o.id === group || o.parent === group);
      key = hashText(all.map((o) => `${o.id} ${worldMatrix(byId, o.id, 'rest').join(',')}`).join(';'));
      known.set(group, key);
    }
    return key;
  };
});

function sourceKey(plan: Plan, object: ObjectRecord): string {
  const curves = [object.curve, object.restCurve].map((c) => (c ? curveText(c) : '')).join();
  return `source ${object.mesh} ${object.mesh !== null && plan.hasAsset(object.mesh)} ${setsText(object.sets)} ${curves}`;
}

/** Keys of what drives an object and its parents. */
function drivingKeys(plan: Plan, object: ObjectRecord, moment: Moment): string {
  const keys: string[] = [];
  const seen = new Set<string>();
  for (let at: ObjectRecord | undefined = object; at && !seen.has(at.id);) {
    seen.add(at.id);
    for (const { unit } of drivingUnits(plan, at.id, moment)) keys.push(unit.key);
    at = at.parent === null ? undefined : moment.objects.get(at.parent);
  }
  return keys.join();
}

function typedNumbers(port: InputPort, value: InputValue, scope: ExpressionScope): TypedNumbers {
  if (typeof value === 'boolean') return { numbers: [value ? 1 : 0], timed: false };
  if (typeof value === 'string') return { numbers: [], timed: false };
  const parts = (Array.isArray(value) ? value : [value]) as readonly NumberSource[];
  const numbers: number[] = [];
  let timed = false;
  for (const part of parts) {
    if (typeof part === 'number') {
      numbers.push(part);
      continue;
    }
    try {
      timed ||= 'keys' in part || dependsOnTime(parseExpression(part.expression));
      numbers.push(animatedAt(part, scope));
    } catch (error) {
      if (!(error instanceof ExpressionError)) throw error;
      const problem: Problem = {
        code: 'expression',
        port: port.label,
        message: error.message,
        severity: 'error',
      };
      return { numbers: [0], problem, timed };
    }
  }
  return { numbers, timed };
}

/** Whether a unit is run chunk by chunk: per element, not skipped, not in a loop. */
export const isElementUnit = (u: PlannedUnit): boolean =>
  u.unit.node.definition?.elements !== undefined && !u.unit.node.record.skip && !u.loop;

/** Whether a consumer reads an input lane by lane (so that it may be fused), not as a whole value. */
export function readsLane(consumer: PlannedUnit, port: string): boolean {
  const input = consumer.unit.node.inputs.find((p: InputPort) => p.id === port);
  return isElementUnit(consumer) && input?.kind !== 'mesh' && !input?.uniform;
}
