import { hashText } from '../hash.ts';
import {
  dependsOnTime,
  evaluateTree,
  ExpressionError,
  parseExpression,
  timeScope,
  type ExpressionScope,
} from '../expression/index.ts';
import { memoize } from '../memo.ts';
import type { InputValue, NumberSource, ObjectRecord, Project } from '../project/schema.ts';
import { membersOf, worldMatrix, type ObjectsById } from '../scene/world.ts';
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

/** A unit to be evaluated, with its key and how it is to be run. */
export interface PlannedUnit {
  readonly unit: Unit;
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
  readonly frame: number;
  readonly scope: ExpressionScope;
  readonly objects: ObjectsById;
  readonly facets: FacetGraph;
  /** Dependencies first. */
  readonly order: readonly PlannedUnit[];
  readonly byVertex: ReadonlyMap<Vertex, PlannedUnit>;
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
  objects: ObjectsById,
  frame: number,
  wanted: readonly PortRef[],
  hasAsset: (id: string) => boolean,
): Plan {
  const facets = facetGraph(project);
  const scope = timeScope(frame, project.frameRate, project.range);
  const byVertex = new Map<Vertex, PlannedUnit>();
  const order: PlannedUnit[] = [];
  const plan: Plan = { project, frame, scope, objects, facets, order, byVertex, hasAsset };
  const opened = new Set<Vertex>();
  const starts = wanted
    .map((w) => facets.unitOfPort.get(`${w.node}.${w.port}`))
    .filter((v) => v !== undefined);
  for (const start of starts) {
    const stack = [start];
    while (stack.length > 0) {
      const v = stack[stack.length - 1];
      const unit = facets.units.get(v);
      if (!unit || byVertex.has(v)) {
        stack.pop();
        continue;
      }
      const loop = facets.loops.get(v);
      const before = opened.has(v) ? [] : unitsBefore(facets, v).filter((d) => !byVertex.has(d));
      opened.add(v);
      if (before.length > 0) {
        stack.push(...before);
        continue;
      }
      stack.pop();
      const planned = planUnit(plan, unit, loop);
      byVertex.set(v, planned);
      order.push(planned);
    }
  }
  for (const w of wanted) {
    const v = facets.unitOfPort.get(`${w.node}.${w.port}`);
    if (v) byVertex.get(v)?.wanted.add(w.port);
  }
  return plan;
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

/** The unit that makes an object's carrier, when exactly one does. */
export function drivingUnit(
  plan: Pick<Plan, 'facets' | 'byVertex'>,
  object: string,
): PlannedUnit | undefined {
  const drivers = plan.facets.drivers.get(object) ?? [];
  if (drivers.length !== 1) return undefined;
  return plan.byVertex.get(plan.facets.unitOfPort.get(`${drivers[0].record.id}.${SHOWN_PORT}`) as Vertex);
}

/** The unit that makes an object's result, when exactly one does. */
export function resultUnit(plan: Pick<Plan, 'facets' | 'byVertex'>, object: string): PlannedUnit | undefined {
  const writers = plan.facets.writers.get(object) ?? [];
  if (writers.length !== 1) return undefined;
  return plan.byVertex.get(plan.facets.unitOfPort.get(`${writers[0].record.id}.${SHOWN_PORT}`) as Vertex);
}

function planUnit(plan: Plan, unit: Unit, loop: readonly string[] | undefined): PlannedUnit {
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
      const from = plan.facets.unitOfPort.get(`${wire.from.node}.${wire.from.port}`);
      const source = from ? plan.byVertex.get(from) : undefined;
      inputs.set(port.id, { unit: source, port: wire.from.port, node: wire.from.node });
      parts.push(port.id, source ? `${source.key}.${wire.from.port}` : `?${wire.from.node}`);
      if (source) for (const s of source.sources.split('|')) if (s) sources.add(s);
      continue;
    }
    const value = typedInput(port, record);
    if (value === undefined) continue;
    const numbers = typedNumbers(port, value, plan.scope);
    typed.set(port.id, numbers);
    parts.push(port.id, numbers.problem ? `!${JSON.stringify(value)}` : numbers.numbers.join(','));
    if (numbers.timed) sources.add('time');
  }
  for (const read of unit.reads) {
    parts.push(facetKey(plan, read));
    sources.add(facetVertex(read));
  }
  if (definition?.readsTime?.(settings)) {
    parts.push(
      `frame ${plan.frame}/${plan.project.frameRate}/${plan.project.range.first}-${plan.project.range.last}`,
    );
    sources.add('time');
  }
  const writes = definition?.writesResultOf?.(settings);
  if (writes && (plan.facets.writers.get(writes)?.length ?? 0) > 1) parts.push('two writers');
  if (loop) parts.push(`loop ${record.id}`, ...loop);
  const planned: PlannedUnit = {
    unit,
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

function facetKey(plan: Plan, read: FacetRef): string {
  const object = plan.objects.get(read.object);
  if (!object) return 'gone';
  switch (read.facet) {
    case 'source':
      return sourceKey(plan, object);
    case 'result': {
      const made = resultUnit(plan, read.object);
      return made ? `result ${made.key}` : `none ${object.mesh}`;
    }
    case 'rest':
      return `rest ${worldMatrix(plan.objects, object.id, 'rest').join(',')}`;
    case 'restMembers':
      return [object, ...plan.project.objects.filter((o) => o.parent === object.id)]
        .map((o) => `${o.id} ${worldMatrix(plan.objects, o.id, 'rest').join(',')}`)
        .join(';');
    case 'members':
      return membersOf(plan.project.objects, object.id)
        .map((m) =>
          [
            m.id,
            sourceKey(plan, m),
            ...(['world', 'rest', 'result'] as const).map((facet) => facetKey(plan, { object: m.id, facet })),
          ].join(),
        ) // prettier-ignore
        .join(';');
    default:
      return `world ${worldMatrix(plan.objects, object.id).join(',')} ${carrierKeys(plan, object)}`;
  }
}

function sourceKey(plan: Plan, object: ObjectRecord): string {
  const curves = [object.curve, object.restCurve].map((c) => (c ? curveText(c) : '')).join();
  return `source ${object.mesh} ${object.mesh !== null && plan.hasAsset(object.mesh)} ${setsText(object.sets)} ${curves}`;
}

/** Keys of what carries an object and its parents. */
function carrierKeys(plan: Plan, object: ObjectRecord): string {
  const keys: string[] = [];
  const seen = new Set<string>();
  for (let at: ObjectRecord | undefined = object; at && !seen.has(at.id);) {
    seen.add(at.id);
    const driving = drivingUnit(plan, at.id);
    if (driving) keys.push(driving.key);
    at = at.parent === null ? undefined : plan.objects.get(at.parent);
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
      const tree = parseExpression(part.expression);
      timed ||= dependsOnTime(tree);
      numbers.push(evaluateTree(tree, scope));
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
