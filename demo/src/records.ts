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
  return {
    id,
    name,
    nodes,
    sections,
    preview: null,
    wires: wires.map(([from, to, ...pins], i) => ({
      id: `${id}-wire-${i + 1}`,
      from: end(from),
      to: end(to),
      pins,
    })),
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
