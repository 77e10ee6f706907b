import { nodeTitle, resolveProject } from '../graph/network/resolve.ts';
import type { Catalogue } from '../graph/node/catalogue.ts';
import { inverseOf } from '../constraints/index.ts';
import { identity, multiply, product, type Matrix } from '../maths/matrix.ts';
import type { Animated, Matrices } from '../project/fields.ts';
import type { ObjectRecord } from '../project/kinds/index.ts';
import type { NodeRecord, Project } from '../project/schema.ts';
import { animatedAt, channelsOf, channelValue, objectsAt, PLACE_CHANNELS } from '../scene/channels.ts';
import { channelsToStandAt } from '../scene/keep-pose.ts';
import { jumpedAt, keysIn, makeKey, trackOf } from '../scene/keys.ts';
import { localMatrix } from '../scene/world.ts';
import { timeScope } from '../expression/index.ts';

/** A switch that was keyed, and how much of the pose could not be kept (0 when all of it). */
export interface KeyedSwitch {
  readonly project: Project;
  readonly residual: number;
}

/** A stretch of frames in which something is another: from its first on, until what was before goes on again, if it does. */
interface Span {
  readonly from: number;
  readonly until: number | undefined;
  /** The range of the project: within it, what goes round and round stays as it was. */
  readonly range: Project['range'];
}

/**
 * A number that jumps at the beginning of a span and keeps to it; before, it is what it was, keys, handles and expression.
 * Keys that stand in the span stay; without any, what it was goes on after the span.
 * @param typed what it is without keys or an expression
 */
function jumping(source: Animated | undefined, typed: number, value: number, { from, until, range }: Span): Animated {
  const track = keysIn(source);
  if (track) return { keys: jumpedAt(track, from, value, until, range) };
  if (source && 'expression' in source) {
    const after = until === undefined ? String(value) : `if(frame < ${until}, ${value}, ${source.expression})`;
    return { expression: `if(frame < ${from}, ${source.expression}, ${after})` };
  }
  // Held as it is typed until then.
  const held = trackOf([makeKey(from, typed, { shape: 'step' })]);
  return { keys: jumpedAt(held, from, value, until) };
}

/**
 * Changes the driver of an object at a frame without a pop: the dial jumps to `to`, and the nine channels jump with it, to
 * what keeps the object where it would have been. Up to that frame nothing changes, not even between frames; the next
 * keys of the dial and the channels stay as they are, and where the dial is keyed next, channels without keys go on from
 * there as before. Where channels cannot hold the pose (shear), they are left alone, and the Hand-Over gets an offset
 * matrix for that time.
 * @param dial the object's channel that its Hand-Over reads. @param worlds world matrices of the object at frames.
 * @returns undefined when the object or the dial is gone, or a matrix cannot be inverted
 */
export async function switchWithoutPop(
  catalogue: Catalogue,
  project: Project,
  objectId: string,
  dial: string,
  to: number,
  frame: number,
  worlds: (project: Project, frames: readonly number[]) => Promise<Float64Array | null>,
): Promise<KeyedSwitch | undefined> {
  const object = project.objects.find((o) => o.id === objectId);
  const now = objectsAt(project, frame).get(objectId);
  if (!object || !now || !channelsOf(now).includes(dial)) return undefined;
  const world = await worlds(project, [frame]);
  const span: Span = {
    from: frame,
    range: project.range,
    until: keysIn(object.animated[dial])?.keys.find((k) => k.frame > frame)?.frame,
  };
  // 1. The dial jumps; so do the channels, with the numbers they have.
  const put = (o: ObjectRecord, channel: string, value: number): ObjectRecord => {
    const source = jumping(object.animated[channel], channelValue(object, channel) ?? 0, value, span);
    return { ...o, animated: { ...o.animated, [channel]: source } };
  };
  const changed = (p: Project, change: (o: ObjectRecord) => ObjectRecord): Project => ({
    ...p,
    objects: p.objects.map((o) => (o.id === objectId ? change(o) : o)),
  });
  const switched = changed(project, (o) => put(o, dial, to));
  const after = await worlds(switched, [frame]);
  // 2. What the new driver puts under the channels: W' · L⁻¹. In it, channels are looked for that give the old world.
  const local = localMatrix(now);
  const offLocal = inverseOf(local);
  if (!world || !after || !offLocal) return undefined;
  const found = channelsToStandAt(now, world, multiply(identity(), after, offLocal));
  if (!found) return undefined;
  if (found.residual > 0) {
    const intoAfter = inverseOf(after);
    // L · W'⁻¹ · W · L⁻¹ goes after the offset there is.
    const offset = intoAfter && product(local, intoAfter, world, offLocal);
    const held = offset && withOffset(catalogue, switched, objectId, span, offset);
    if (held) return { project: held, residual: 0 };
  }
  const kept = changed(switched, (o) => PLACE_CHANNELS.reduce((q, c) => put(q, c, found.values[c]), o));
  return { project: kept, residual: found.residual };
}

/** Nodes that hand an object from driver to driver, skipped ones left out, and where each keeps what. */
function switchesOf(catalogue: Catalogue, project: Project, objectId: string) {
  return [...resolveProject(catalogue, project).values()].flatMap(({ record, graph, definition, wires }) => {
    const ports = definition?.switches;
    return ports && record.settings.object === objectId && !record.skip ? [{ node: record, graph, ports, wires }] : [];
  });
}

/** The channel of an object that chooses between its drivers: what the first node that hands it over reads; undefined without one. */
export function switchDial(catalogue: Catalogue, project: Project, objectId: string): string | undefined {
  const nodes = resolveProject(catalogue, project);
  for (const { ports, wires } of switchesOf(catalogue, project, objectId)) {
    const from = nodes.get(wires.get(ports.dial)?.from.node ?? '');
    const read = from?.definition?.reads?.(from.settings).find((r) => r.facet === 'channel' && r.object === objectId);
    if (read?.channel !== undefined) return read.channel;
  }
  return undefined;
}

/** What an object is handed between: the names of the drivers, in the order in which the dial counts them. */
export function switchDrivers(catalogue: Catalogue, project: Project, objectId: string): readonly string[] {
  const nodes = resolveProject(catalogue, project);
  const names = new Map(project.objects.map((o) => [o.id, o.name]));
  const [found] = switchesOf(catalogue, project, objectId);
  if (!found) return [];
  const ports = nodes.get(found.node.id)?.inputs.filter((p) => p.kind === 'matrix') ?? [];
  return ports.map((port, i) => {
    const from = nodes.get(found.wires.get(port.id)?.from.node ?? '');
    const object = from?.definition?.reads?.(from.settings)[0]?.object;
    return (object !== undefined ? names.get(object) : undefined) ?? (from ? nodeTitle(from) : `driver ${i + 1}`);
  });
}

/** Gives the one Hand-Over of an object another offset for a span; undefined where there is not exactly one. */
function withOffset(catalogue: Catalogue, project: Project, objectId: string, span: Span, change: Matrix): Project | undefined {
  const nodes = switchesOf(catalogue, project, objectId);
  if (nodes.length !== 1) return undefined;
  const [{ node, ports }] = nodes;
  // Inside of a module the spans would be those of all its uses.
  if (!project.graphs.some((g) => g.nodes.includes(node))) return undefined;
  const known = (node.settings[ports.offsets] as Matrices | undefined)?.matrices ?? [];
  const typed = node.inputs[ports.segment] as number | Animated | undefined;
  const scope = (f: number) => timeScope(f, project.frameRate, project.range);
  const segmentAt = (f: number): number =>
    typed === undefined ? 0 : typeof typed === 'number' ? typed : Math.round(animatedAt(typed, scope(f)));
  const present = known[segmentAt(span.from) - 1];
  const offset = present ? product(Float64Array.from(present), change) : change;
  const offsets: Matrices = { matrices: [...known, Array.from(offset)] };
  const animated = typeof typed === 'object' ? typed : undefined;
  const segment = jumping(animated, typeof typed === 'number' ? typed : 0, offsets.matrices.length, span);
  const made: NodeRecord = {
    ...node,
    settings: { ...node.settings, [ports.offsets]: offsets },
    inputs: { ...node.inputs, [ports.segment]: segment },
  };
  return {
    ...project,
    graphs: project.graphs.map((g) => ({ ...g, nodes: g.nodes.map((n) => (n === node ? made : n)) })),
  };
}
