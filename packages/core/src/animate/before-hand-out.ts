import type { Mesh } from '../geometry/mesh.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { drivingNodes } from '../graph/network/facets.ts';
import { nodeTitle } from '../graph/network/resolve.ts';
import { shownResults } from '../graph/network/shown.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { SHOWN_PORT, type InputPort } from '../graph/node/definition.ts';
import { pointsOf } from '../graph/node/points-of.ts';
import type { Value } from '../graph/node/values.ts';
import { checkProject, type Finding } from '../graph/readouts/check.ts';
import { setInput } from '../edits/document.ts';
import type { OpenedProject } from '../project/file.ts';
import type { InputValue } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { DialValue } from '../project/animation.ts';
import type { Project } from '../project/schema.ts';
import type { PackedDriven } from '../scene/packed-driven.ts';
import { channelName, channelValue, placeOfChannel, withChannels } from '../scene/channels.ts';
import { dialAt } from './dials.ts';
import { handedOut, reachOf } from './reach.ts';

/** Something that animators are given to turn: how a project has it turned further, and back. */
interface Turnable {
  readonly where: string;
  readonly name: string;
  /** At the end of a range only one of them does anything. */
  readonly turned: readonly ((p: Project) => Project)[];
}

/** What is seen of a project at a frame. */
interface Seen {
  readonly values: readonly (Value | undefined)[];
  readonly driven: PackedDriven;
  /** Whether anything had to be worked out for it. */
  readonly isNew: boolean;
}

/**
 * What an animator would stumble over, before a rig is handed out: what the hand-out names and nobody can turn, what is
 * broken at a frame, and dials that move nothing there, whichever of the others is turned.
 */
export function checkHandOut(catalogue: Catalogue, opened: OpenedProject, frame: number): Finding[] {
  const { project, assets } = opened;
  const gone = handedOut(catalogue, project).problems.map((message): Finding => ({
    where: 'Hand out',
    severity: 'warning',
    message,
  }));
  const broken = checkProject(catalogue, { ...opened, repairs: [] }, frame).filter((f) => f.severity === 'error');
  const idle = idleDials(catalogue, project, assets, frame).map(({ where, name }): Finding => ({
    where,
    severity: 'warning',
    message: `"${name}" moves nothing at frame ${frame}. Connect what it should turn, or take it off the page.`,
  }));
  return [...gone, ...broken, ...idle];
}

/** Dials that are handed out and change no result, and no place that a graph drives. */
function idleDials(catalogue: Catalogue, project: Project, assets: ReadonlyMap<string, Mesh>, frame: number): Turnable[] {
  const evaluator = new Evaluator(catalogue, { cacheInBytes: 5e8 });
  for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
  const seen = (p: Project): Seen => {
    const nodes = [...shownResults(catalogue, p).map((r) => r.node), ...drivingNodes(catalogue, p)];
    const wanted = [...new Set(nodes)].map((node) => ({ node, port: SHOWN_PORT }));
    const evaluation = evaluator.evaluate({ project: p, frame, wanted });
    return {
      values: wanted.map((w) => evaluation.value(w)),
      driven: evaluation.allDriven(),
      isNew: evaluation.computed.length > 0,
    };
  };
  const all = turnables(catalogue, project, frame);
  const asIs = seen(project);
  const silent = new Map<Turnable, boolean>();
  for (const t of all) {
    const pictures = t.turned.map((turn) => seen(turn(project)));
    if (pictures.every((p) => isSame(asIs, p)))
      silent.set(
        t,
        pictures.some((p) => p.isNew),
      );
  }
  // What waits for another dial (a length while its amount is 0) moves something once that one is turned; where several
  // have to be, once all are. A hand-over moves something once its drivers stand elsewhere than in its snapshot.
  const stirred = { ...project, objects: project.objects.map(stir) };
  return [...silent].flatMap(([t, isRead]) => {
    // Nothing hangs on it, so nothing else can make it count.
    if (!isRead) return [t];
    const others = all.filter((x) => x !== t);
    const bases = others.map((x) => x.turned[0](project));
    const together = others.reduce((p, x) => x.turned[0](p), project);
    const isIdle = [stirred, ...bases, together].every((base) => {
      const without = seen(base);
      return t.turned.every((turn) => isSame(without, seen(turn(base))));
    });
    return isIdle ? [t] : [];
  });
}

/** Every dial of a card and every channel of its own of an object, that animators may turn. Settings are not among them. */
function turnables(catalogue: Catalogue, project: Project, frame: number): Turnable[] {
  const reach = reachOf(catalogue, project);
  const found = new Map<string, Turnable>();
  for (const part of handedOut(catalogue, project).pages.flatMap((p) => p.parts)) {
    if (part.kind === 'dials') {
      const { record, graph } = part.node;
      const where = `${graph.name} / ${nodeTitle(part.node)}`;
      const open = part.ports.filter((p) => reach.dials.get(record.id)?.includes(p.id));
      for (const port of open) {
        const value = dialAt(project, record, port, frame);
        if (value === undefined) continue;
        const turned = [1, -1]
          .map((way) => turnedBy(port, value, way))
          .filter((to) => JSON.stringify(to) !== JSON.stringify(value));
        found.set(`${record.id} ${port.id}`, {
          where,
          name: port.label,
          turned: turned.map((to) => setInput(graph.id, record.id, port.id, to)),
        });
      }
      continue;
    }
    const { object } = part;
    const own = part.channels.filter((c) => !placeOfChannel(c) && reach.objects.get(object.id)?.includes(c));
    for (const channel of own) {
      const value = channelValue(object, channel) ?? 0;
      const { min, max } = object.custom.find((c) => c.id === channel) ?? { min: null, max: null };
      found.set(`${object.id} ${channel}`, {
        where: object.name,
        name: channelName(object, channel),
        turned: [1, -1]
          .map((way) => nudged(value, way, min ?? undefined, max ?? undefined))
          .filter((to) => to !== value)
          .map((to) => (p) => ({ ...p, objects: p.objects.map((o) => (o.id === object.id ? withNumber(o, channel, to) : o)) })),
      });
    }
  }
  return [...found.values()].filter((t) => t.turned.length > 0);
}

/** An object somewhere else, each another way. */
function stir(object: ObjectRecord, i: number): ObjectRecord {
  const { translate, rotate } = object.channels;
  const away = translate.map((v, axis) => v + 0.1 + 0.07 * ((i + axis) % 5));
  const turned = rotate.map((v, axis) => v + 10 + 7 * ((i + 2 * axis) % 3));
  const names = ['x', 'y', 'z'].map((axis, k) => [
    [`translate.${axis}`, away[k]],
    [`rotate.${axis}`, turned[k]],
  ]);
  const values: Readonly<Record<string, number>> = Object.fromEntries(names.flat());
  return Object.entries(values).reduce((o, [channel, value]) => withNumber(o, channel, value), object);
}

/** An object with a number in a channel, whatever was in it. */
function withNumber(object: ObjectRecord, channel: string, value: number): ObjectRecord {
  const { [channel]: _animated, ...animated } = object.animated;
  return { ...withChannels(object, { [channel]: value }), animated };
}

/** A dial's value, turned one way by an eighth of its range. */
function turnedBy({ kind, range }: InputPort, value: DialValue, way: number): InputValue {
  if (typeof value === 'boolean') return !value;
  const turn = (v: number) => {
    const to = nudged(v, way, range?.min, range?.max);
    return kind === 'integer' ? v + Math.sign(to - v) * Math.max(1, Math.round(Math.abs(to - v))) : to;
  };
  return typeof value === 'number' ? turn(value) : ([turn(value[0]), turn(value[1]), turn(value[2])] as const);
}

function nudged(value: number, way: number, min?: number, max?: number): number {
  const step = min !== undefined && max !== undefined && max > min ? (max - min) / 8 : 1;
  const low = Math.min(value, min ?? -Infinity);
  return Math.max(low, Math.min(Math.max(value, max ?? Infinity), value + way * step));
}

/** Whether two pictures are of the same numbers. */
function isSame(a: Seen, b: Seen): boolean {
  return (
    a.values.every((value, i) => value === b.values[i] || isSameValue(value, b.values[i])) &&
    sameNumbers(a.driven.carriers, b.driven.carriers) &&
    JSON.stringify([...a.driven.channels]) === JSON.stringify([...b.driven.channels])
  );
}

function isSameValue(a: Value | undefined, b: Value | undefined): boolean {
  if (!a || !b || a.form !== b.form) return a === b;
  if (a.form === 'driven') return true; // Compared for all objects at once.
  if (!sameNumbers(pointsOf(a), pointsOf(b))) return false;
  if (a.form === 'copies' && b.form === 'copies') return sameNumbers(a.copies.matrices, b.copies.matrices);
  if (a.form !== 'geometry' || b.form !== 'geometry') return true;
  const [mine, others] = [a.mesh.attributes, b.mesh.attributes];
  return mine.length === others.length && mine.every((x, i) => x.name === others[i].name && sameNumbers(x.data, others[i].data));
}

type Numbers = Readonly<ArrayLike<number>> | undefined;

const sameNumbers = (a: Numbers, b: Numbers): boolean => {
  if (a === b) return true;
  if (!a || !b || a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (!Object.is(a[i], b[i])) return false;
  return true;
};
