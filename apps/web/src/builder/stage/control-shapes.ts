import { controlOf, curveOf, type Control, type ObjectRecord } from '@umberfish/core';
import { drawnLines } from './curve-points.ts';

const REACH = 0.16;
const SIDES = 48;

/** Ends of lines, one after the other. */
type Lines = readonly number[];

/** Three axes through a diamond: plain enough to read at any turn, in metres. */
const CROSS: Lines = (() => {
  const r = REACH;
  const d = REACH * 0.45;
  const corners = [
    [d, 0, 0],
    [0, d, 0],
    [-d, 0, 0],
    [0, -d, 0],
  ];
  const diamond = corners.flatMap((c, i) => [...c, ...corners[(i + 1) % 4]]);
  return [
    ...[-r, 0, 0, r, 0, 0],
    ...[0, -r, 0, 0, r, 0],
    ...[0, 0, -r, 0, 0, r],
    ...diamond,
    ...[d, 0, 0, 0, 0, d],
    ...[0, 0, d, -d, 0, 0],
    ...[-d, 0, 0, 0, 0, -d],
    ...[0, 0, -d, d, 0, 0],
  ];
})();

/** A circle of radius a half across an axis. */
const circle = (axis: 0 | 1 | 2): Lines =>
  Array.from({ length: SIDES }, (_, i) => [i, i + 1]).flatMap((pair) =>
    pair.flatMap((k) => {
      const a = (k / SIDES) * 2 * Math.PI;
      const at = [0, 0, 0];
      at[(axis + 1) % 3] = Math.cos(a) / 2;
      at[(axis + 2) % 3] = Math.sin(a) / 2;
      return at;
    }),
  );

/** A loop of corners in the level plane. */
const loop = (corners: readonly (readonly [number, number])[]): Lines =>
  corners.flatMap(([x, z], i) => {
    const [nx, nz] = corners[(i + 1) % corners.length];
    return [x, 0, z, nx, 0, nz];
  });

/** Shapes one metre across, about the origin, level. */
const SHAPES: Record<Exclude<Control['shape'], 'curve'>, Lines> = {
  ring: circle(1),
  square: loop([
    [-0.5, -0.5],
    [0.5, -0.5],
    [0.5, 0.5],
    [-0.5, 0.5],
  ]),
  ball: [...circle(0), ...circle(1), ...circle(2)],
  arrow: loop([
    [-0.15, -0.5],
    [0.15, -0.5],
    [0.15, 0],
    [0.4, 0],
    [0, 0.5],
    [-0.4, 0],
    [-0.15, 0],
  ]),
  cross: CROSS.map((v) => v / (2 * REACH)),
};

/** The lines that are drawn of a locator, in its own space: its control, or the plain cross. */
export function shapeOf(locator: ObjectRecord, byId: (id: string) => ObjectRecord | undefined): Lines {
  const control = controlOf(locator);
  if (!control) return CROSS;
  const drawing = control.shape === 'curve' ? curveOf(control.curve === null ? undefined : byId(control.curve)) : null;
  const lines = control.shape === 'curve' ? (drawing ? drawnLines(drawing) : SHAPES.ring) : SHAPES[control.shape];
  const { size, offset } = control;
  return Array.from(lines, (v, i) => v * size + offset[i % 3]);
}
