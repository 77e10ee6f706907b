import {
  CATALOGUE,
  type Channels,
  type GraphRecord,
  type InputValue,
  type NodeRecord,
  type SectionRecord,
  controlPoint,
  type SettingValue,
  type SplineRecord,
  type Vec3,
} from '@umberfish/core';
import places from '../places.json' with { type: 'json' };

type Place = readonly [number, number];

/** Where the cards of each graph stand when it is tidied, and where its wires bend; written by the script of the demo. */
const PLACES = places as unknown as Readonly<
  Record<string, { nodes: Readonly<Record<string, Place>>; pins: Readonly<Record<string, readonly Place[]>> } | undefined>
>;

/** What of a node is not as in a new one. */
export interface NodeExtras {
  inputs?: Record<string, InputValue>;
  settings?: Record<string, SettingValue>;
  title?: string;
  probes?: string[];
}

/** A node at a place on the bench. */
export function node(id: string, type: string, position: readonly [number, number], extras: NodeExtras = {}): NodeRecord {
  const version = CATALOGUE.get(type)?.version ?? 1;
  const { inputs = {}, settings = {}, title = '', probes = [] } = extras;
  return { id, type, version, title, position, inputs, settings, skip: false, probes };
}

/** A wire as `node.port` twice, then the places where it bends. */
export type ShortWire = readonly [string, string, ...(readonly [number, number])[]];

/** A graph; wires in short. */
export function graph(
  id: string,
  name: string,
  nodes: NodeRecord[],
  wires: readonly ShortWire[],
  sections: readonly SectionRecord[] = [],
): GraphRecord {
  const end = (text: string) => ({
    node: text.slice(0, text.indexOf('.')),
    port: text.slice(text.indexOf('.') + 1),
  });
  const tidied = PLACES[id];
  return {
    id,
    name,
    nodes: nodes.map((n) => ({ ...n, position: tidied?.nodes[n.id] ?? n.position })),
    sections,
    preview: null,
    wires: wires.map(([from, to, ...pins], i) => {
      const wire = `${id}-wire-${i + 1}`;
      return { id: wire, from: end(from), to: end(to), pins: tidied ? (tidied.pins[wire] ?? []) : pins };
    }),
  };
}

/** Channels of an object: metres, degrees, factors. */
export const at = (translate: Vec3, rotate: Vec3 = [0, 0, 0], scale: Vec3 = [1, 1, 1]): Channels => ({
  translate,
  rotate,
  order: 'xyz',
  scale,
});

/** A section round some nodes. */
export const section = (
  id: string,
  title: string,
  note: string,
  tint: SectionRecord['tint'],
  nodes: readonly string[],
): SectionRecord => ({ id, title, note, tint, nodes, folded: false });

/** A spline through places, without handles. */
export const spline = (type: SplineRecord['type'], closed: boolean, points: readonly Vec3[]): SplineRecord => ({
  type,
  closed,
  points: points.map(controlPoint),
});
