import type { Hash } from '../../hash.ts';
import { memoize } from '../../memo.ts';
import type { ExpressionScope } from '../../expression/index.ts';
import type { InputValue } from '../../project/fields.ts';
import type { Project } from '../../project/schema.ts';
import { jointsOf } from '../../scene/joints.ts';
import { membersOf } from '../../scene/hierarchy.ts';
import { objectsById, type ObjectsById } from '../../scene/objects.ts';
import type { MatrixKernel } from '../light/matrix-kernel.ts';
import { SHOWN_PORT, type FacetRef, type InputPort } from '../node/definition.ts';
import type { FacetGraph, Unit, Vertex } from '../network/facets.ts';
import type { ProblemData } from '../node/problems.ts';
import type { PortRef } from '../network/resolve.ts';

/** A frame that something is worked out at, with what depends on nothing but it. */
export interface Moment {
  /** Its number in the outline: 0 is the frame asked for. */
  readonly number: number;
  readonly frame: number;
  readonly scope: ExpressionScope;
  /** Objects with their keys and expressions worked out. */
  readonly objects: ObjectsById;
}

/** Where a wire comes from; without a unit it leads nowhere. */
export interface Wired {
  readonly unit: OutlinedUnit | undefined;
  readonly port: string;
  readonly node: string;
}

/** A unit at a moment, with all that is the same at every frame. */
export interface OutlinedUnit {
  /** Its place in the order. */
  readonly index: number;
  readonly unit: Unit;
  /** Number of the moment it is worked out at, and of the one its wires are: At Frame asks for another. */
  readonly at: number;
  readonly before: number;
  /** Why it cannot be worked out at all, whatever the frame: it is on a loop, or reads too many frames. */
  readonly refused: ProblemData | undefined;
  readonly inputs: ReadonlyMap<string, Wired>;
  /** Everything it takes something from, by wire or behind a facet, and which output. */
  readonly needs: readonly { readonly unit: OutlinedUnit; readonly bit: number }[];
  /** Who reads its outputs by wire. */
  readonly users: { readonly unit: OutlinedUnit; readonly port: string }[];
  /** Typed inputs, and of them those that change with time. */
  readonly typed: readonly {
    readonly port: InputPort;
    readonly value: InputValue;
    readonly timed: boolean;
  }[];
  /** Facets it reads that can change from frame to frame. */
  readonly moving: readonly FacetRef[];
  /** What it depends on outside graphs: object facets, time. */
  readonly sources: string;
  readonly readsTime: boolean;
  /** It reads something itself that can change from frame to frame. */
  readonly isMoving: boolean;
  /** Quicker to work out than to keep: it is only remembered for the next frame. */
  readonly isLight: boolean;
  /** The short way to its one matrix, and where the matrices it takes come from. */
  readonly kernel: MatrixKernel | undefined;
  readonly matricesFrom: readonly { readonly unit: OutlinedUnit; readonly port: string }[];
  /** Hash of all that is the same at every frame. */
  readonly hash: Hash;
  /** Outputs that are asked for from outside. */
  asked: number;
}

/** A unit that drives parts of an object, and which. */
export interface Driving {
  readonly unit: OutlinedUnit;
  readonly channels: readonly (string | undefined)[];
}

/** All that drives an object. */
export interface DrivenOutline {
  readonly by: readonly Driving[];
  /** The unit whose kernel makes its carrier, where nothing else drives it; else −1. */
  readonly kernel: number;
}

/** What is to be evaluated for some outputs, in order, at any frame: made once for a document and used at each. */
export interface Outline {
  readonly project: Project;
  readonly wanted: readonly PortRef[];
  readonly facets: FacetGraph;
  /** Dependencies first. */
  readonly order: readonly OutlinedUnit[];
  /** Those of them that are run chunk by chunk. */
  readonly elements: readonly OutlinedUnit[];
  /** By moment and vertex. */
  readonly placed: readonly ReadonlyMap<Vertex, OutlinedUnit>[];
  /** How the frame of each moment but the first follows from another's. */
  readonly shifts: readonly Shift[];
  /** Whether the mesh of an asset is at hand. */
  hasAsset(id: string): boolean;
  /** Kept answers of `drivingUnits`, by moment and object. */
  readonly driving: Map<string, DrivenOutline>[];
}

/** By which name a wire is known that brings what an input had some frames ago. No port has a line break in its name. */
export const earlierPort = (port: string, frames: number): string => `${port}\n${frames}`;

/** The port of a name that may be of an earlier frame. */
export const presentPort = (name: string): string => {
  const at = name.indexOf('\n');
  return at < 0 ? name : name.slice(0, at);
};

export interface Shift {
  readonly unit: Unit;
  readonly from: number;
  readonly to: number;
  /** How many frames earlier, where the node looks back; else its definition tells. */
  readonly back?: number;
}

/** The bit of an output in sets of outputs; those after the thirtieth share one. */
export const bitOf = (unit: Unit, port: string): number => 1 << Math.min(30, unit.ports.indexOf(port));

/** Whether a unit is run chunk by chunk: per element, not skipped, not refused. */
export const isElementUnit = ({ unit, refused }: OutlinedUnit): boolean =>
  unit.node.definition?.elements !== undefined && !unit.node.record.skip && !refused;

/** The unit of an output at a moment, when it is in the outline. */
export function outlinedAt({ facets, placed }: Outline, { node, port }: PortRef, moment: number): OutlinedUnit | undefined {
  const v = facets.unitOfPort.get(`${node}.${port}`);
  return v === undefined ? undefined : placed[moment].get(v);
}

/** What drives an object; a part that two units make is made by none. Kept with the outline. */
export function drivenOutline(outline: Outline, object: string, moment: number): DrivenOutline | undefined {
  const known = outline.driving[moment].get(object);
  if (known || !outline.facets.drivers.has(object)) return known;
  const by = findDriving(outline, object, moment);
  const kernel = by.length === 1 && by[0].unit.kernel?.isCarrier ? by[0].unit.index : -1;
  const found: DrivenOutline = { by, kernel };
  outline.driving[moment].set(object, found);
  return found;
}

/** Every object that is driven at the frame asked for, and the `kernel` of what drives it. */
export const drivenObjects = memoize((outline: Outline) => {
  const objects = [...outline.facets.drivers.keys()];
  const kernels = Int32Array.from(objects, (object) => drivenOutline(outline, object, 0)?.kernel ?? -1);
  return { objects, kernels };
});

/** The units that drive an object. */
export const drivingUnits = (outline: Outline, object: string, moment: number): readonly Driving[] =>
  drivenOutline(outline, object, moment)?.by ?? NOTHING;

const NOTHING: readonly Driving[] = [];

function findDriving(outline: Outline, object: string, moment: number): readonly Driving[] {
  const drivers = outline.facets.drivers.get(object) ?? [];
  const found = new Map<OutlinedUnit, (string | undefined)[]>();
  for (const { node, channel } of drivers) {
    if (drivers.some((d) => d.channel === channel && d.node !== node)) continue;
    const unit = outlinedAt(outline, { node: node.record.id, port: SHOWN_PORT }, moment);
    if (unit) found.set(unit, [...(found.get(unit) ?? []), channel]);
  }
  return [...found].map(([unit, channels]) => ({ unit, channels }));
}

/** The unit that makes an object's result, when exactly one does. */
export function resultUnit(outline: Outline, object: string, moment: number): OutlinedUnit | undefined {
  const writers = outline.facets.writers.get(object) ?? [];
  if (writers.length !== 1) return undefined;
  return outlinedAt(outline, { node: writers[0].record.id, port: SHOWN_PORT }, moment);
}

/** Units behind a facet, as far as they are in the outline yet: what makes a result, and what drives an object, its parents or the members of a group. */
export function unitsBehind(outline: Outline, read: FacetRef, moment: number): OutlinedUnit[] {
  const object = objectsById(outline.project.objects).get(read.object);
  if (!object) return [];
  if (read.facet === 'result') return [resultUnit(outline, object.id, moment)].filter((u) => u !== undefined);
  if (read.facet === 'members') {
    return membersOf(outline.project.objects, object.id).flatMap((m) =>
      (['result', 'world'] as const).flatMap((facet) => unitsBehind(outline, { object: m.id, facet }, moment)),
    );
  }
  if (read.facet === 'joints' || read.facet === 'posedJoints') {
    const joints = jointsOf(outline.project.objects, object.id);
    const behind = joints.flatMap((j) =>
      findDriving(outline, j.id, moment).filter((d) => read.facet === 'posedJoints' || d.channels.some((c) => c !== undefined)),
    );
    return [...behind.map((d) => d.unit), ...unitsBehind(outline, { object: object.id, facet: 'world' }, moment)];
  }
  const mine = findDriving(outline, object.id, moment);
  if (read.facet === 'channel') return mine.filter((d) => d.channels.includes(read.channel)).map((d) => d.unit);
  if (read.facet !== 'world' && read.facet !== 'parent') return [];
  const above = object.parent === null ? [] : unitsBehind(outline, { object: object.parent, facet: 'world' }, moment);
  return read.facet === 'parent' ? above : [...mine.map((d) => d.unit), ...above];
}
