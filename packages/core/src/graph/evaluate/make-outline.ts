import { Hash } from '../../hash.ts';
import { dependsOnTime, parseExpression, timeScope } from '../../expression/index.ts';
import { SHOWN_PORT } from '../node/definition.ts';
import type { InputValue, NumberSource } from '../../project/fields.ts';
import type { Project } from '../../project/schema.ts';
import { objectsAt } from '../../scene/channels.ts';
import type { FacetRef } from '../node/definition.ts';
import { typedInput } from '../node/typed.ts';
import { hashStillFacet, isStillFacet, settingsText } from './facet-keys.ts';
import { facetGraph, facetVertex, type FacetGraph, type Unit, type Vertex } from '../network/facets.ts';
import {
  bitOf,
  earlierPort,
  isElementUnit,
  outlinedAt,
  unitsBehind,
  type Moment,
  type Outline,
  type OutlinedUnit,
  type Shift,
  type Wired,
} from './outline.ts';
import type { Catalogue } from '../node/catalogue.ts';
import { kernelOf } from '../light/matrix-kernel.ts';
import type { ProblemData } from '../node/problems.ts';
import type { PortRef } from '../network/resolve.ts';

/** Frames beside the present one that a picture may need, through At Frame nodes behind one another. */
const MOST_MOMENTS = 500;

/** Orders what the wanted outputs depend on. The frame only tells which moments there are. */
export function makeOutline(
  catalogue: Catalogue,
  project: Project,
  wanted: readonly PortRef[],
  frame: number,
  hasAsset: (id: string) => boolean,
): Outline {
  const facets = facetGraph(catalogue, project);
  const placed: Map<Vertex, OutlinedUnit>[] = [new Map()];
  const order: OutlinedUnit[] = [];
  const elements: OutlinedUnit[] = [];
  const shifts: Shift[] = [];
  const outline: Outline = {
    project,
    wanted,
    facets,
    order,
    elements,
    placed,
    shifts,
    hasAsset,
    driving: [new Map()],
  };
  const frames = [frame];
  const numberOf = (f: number): number | undefined => {
    const known = frames.indexOf(f);
    if (known >= 0) return known;
    if (frames.length > MOST_MOMENTS) return undefined;
    placed.push(new Map());
    outline.driving.push(new Map());
    return frames.push(f) - 1;
  };
  const opened = new Set<string>();
  for (const ref of wanted) {
    const start = facets.unitOfPort.get(`${ref.node}.${ref.port}`);
    const stack = start === undefined ? [] : [{ v: start, at: 0, before: -1 }];
    while (stack.length > 0) {
      const top = stack[stack.length - 1];
      const { v, at } = top;
      const unit = facets.units.get(v);
      if (!unit || placed[at].has(v)) {
        stack.pop();
        continue;
      }
      const { definition, settings } = unit.node;
      const loop = facets.loops.get(v);
      // On a loop no frame is the first: what reads itself at another frame would be worked out for ever.
      const shifted = loop ? undefined : definition?.readsFrame?.(settings, frames[at]);
      const moment = shifted === undefined ? at : numberOf(shifted);
      const before = moment ?? at;
      const back = loop ? undefined : definition?.looksBack?.(settings);
      const earlier = Array.from({ length: back?.frames ?? 0 }, (_, k) => numberOf(frames[at] - k - 1));
      const name = `${at} ${v}`;
      if (!opened.has(name)) {
        opened.add(name);
        if (before !== at) shifts.push({ unit, from: at, to: before });
        earlier.forEach((to, k) => {
          if (to !== undefined && to !== at) shifts.push({ unit, from: at, to, back: k + 1 });
        });
        const needed = unitsBefore(facets, v);
        const missing = [before, ...earlier].flatMap((m) =>
          m === undefined ? [] : needed.filter((d) => !placed[m].has(d)).map((d) => ({ v: d, at: m, before: -1 })),
        );
        if (missing.length > 0) {
          stack.push(...missing);
          continue;
        }
      }
      stack.pop();
      const outlined = outlineUnit(
        outline,
        unit,
        at,
        before,
        earlier,
        refusal(loop, earlier.includes(undefined) ? undefined : moment),
      );
      placed[at].set(v, outlined);
      order.push(outlined);
      if (isElementUnit(outlined)) elements.push(outlined);
      for (const [port, from] of outlined.inputs) from.unit?.users.push({ unit: outlined, port });
    }
    const asked = outlinedAt(outline, ref, 0);
    if (asked) asked.asked |= bitOf(asked.unit, ref.port);
  }
  return outline;
}

/**
 * The moments of an outline when another frame is asked for; undefined where they do not fall together as they did
 * when it was made.
 */
export function momentsOf(outline: Outline, frame: number): Moment[] | undefined {
  const { project } = outline;
  const moments: Moment[] = [];
  const put = (number: number, f: number) => {
    const scope = timeScope(f, project.frameRate, project.range);
    moments[number] = { number, frame: f, scope, objects: objectsAt(project, f) };
  };
  put(0, frame);
  for (const { unit, from, to, back } of outline.shifts) {
    const { definition, settings } = unit.node;
    const f = back === undefined ? definition?.readsFrame?.(settings, moments[from].frame) : moments[from].frame - back;
    if (f === undefined) return undefined;
    if (moments[to] ? moments[to].frame !== f : moments.some((m) => m.frame === f)) return undefined;
    if (!moments[to]) put(to, f);
  }
  return moments;
}

const refusal = (loop: readonly string[] | undefined, moment: number | undefined): ProblemData | undefined =>
  loop ? { code: 'loop', path: [...loop] } : moment === undefined ? { code: 'frames-many', most: MOST_MOMENTS } : undefined;

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

function outlineUnit(
  outline: Outline,
  unit: Unit,
  at: number,
  before: number,
  earlier: readonly (number | undefined)[],
  refused: ProblemData | undefined,
): OutlinedUnit {
  const { project, facets } = outline;
  const { node } = unit;
  const { record, definition, settings } = node;
  const sources = new Set<string>();
  const inputs = new Map<string, Wired>();
  const typed: OutlinedUnit['typed'][number][] = [];
  const hash = new Hash()
    .text(record.type)
    .number(definition?.version ?? record.version)
    .text(settingsText(settings))
    .word(record.skip ? 1 : 0);
  for (const port of node.inputs) {
    const wire = node.wires.get(port.id);
    if (wire) {
      const from = outlinedAt(outline, wire.from, before);
      inputs.set(port.id, { unit: from, port: wire.from.port, node: wire.from.node });
      hash.text(port.id).text(from ? wire.from.port : `?${wire.from.node}`);
      for (const s of from?.sources.split('|') ?? []) if (s) sources.add(s);
      if (port.id === definition?.looksBack?.(settings).port)
        earlier.forEach((m, k) => {
          if (m === undefined) return;
          inputs.set(earlierPort(port.id, k + 1), {
            unit: outlinedAt(outline, wire.from, m),
            port: wire.from.port,
            node: wire.from.node,
          });
          hash.text('earlier');
        });
      continue;
    }
    const value = typedInput(port, record);
    if (value === undefined) continue;
    const timed = isTimed(value);
    typed.push({ port, value, timed });
    hash.text(port.id).text(JSON.stringify(value));
    if (timed) sources.add('time');
  }
  const moving: FacetRef[] = [];
  for (const read of unit.reads) {
    sources.add(facetVertex(read));
    if (isStillFacet(outline, read)) hashStillFacet(hash, outline, read);
    else moving.push(read);
  }
  const readsTime = definition?.readsTime?.(settings) ?? false;
  if (readsTime) {
    hash.numbers([project.frameRate, project.range.first, project.range.last]);
    sources.add('time');
  }
  if (facets.contested.has(record.id)) hash.text('contested');
  if (refused) hash.text(`refused ${record.id} ${JSON.stringify(refused)}`);
  const wired = [...inputs.values()].flatMap((from) => (from.unit ? [{ unit: from.unit, port: from.port }] : []));
  const behind = unit.reads.flatMap((r) => unitsBehind(outline, r, at)).map((u) => ({ unit: u, port: SHOWN_PORT }));
  const needs = [...wired, ...behind];
  const isLight = definition?.light === true && !refused && needs.every((n) => n.unit.isLight);
  const short =
    isLight && !record.skip && !facets.contested.has(record.id) ? kernelOf(definition)?.(settings, project) : undefined;
  const matricesFrom = (short?.inputs ?? []).flatMap((port) => {
    const from = inputs.get(port);
    return from?.unit ? [{ unit: from.unit, port: from.port }] : [];
  });
  return {
    index: outline.order.length,
    unit,
    at,
    before,
    refused,
    inputs,
    needs: needs.map((n) => ({ unit: n.unit, bit: bitOf(n.unit.unit, n.port) })),
    users: [],
    typed,
    moving,
    sources: [...sources].sort().join('|'),
    readsTime,
    isMoving: readsTime || moving.length > 0 || typed.some((t) => t.timed),
    isLight,
    kernel: matricesFrom.length === short?.inputs.length ? short : undefined,
    matricesFrom,
    hash,
    asked: 0,
  };
}

/** Whether a typed value changes with time; one that cannot be read does not. */
function isTimed(value: InputValue): boolean {
  if (typeof value !== 'object') return false;
  return ((Array.isArray(value) ? value : [value]) as readonly NumberSource[]).some((part) => {
    if (typeof part === 'number') return false;
    if ('keys' in part) return true;
    try {
      return dependsOnTime(parseExpression(part.expression));
    } catch {
      return false;
    }
  });
}
