import type { Mesh, Vec3 } from '@umberfish/core';
import { MeshBuilder } from './builder.ts';

const RINGS = 44;
const SIDES = 20;

/** Half height and half width of the body at a share of its length, nose first. */
function body(t: number): readonly [number, number] {
  const nose = Math.sqrt(Math.max(0, 1 - (1 - Math.min(1, t / 0.3)) ** 2));
  const taper = 1 - 0.86 * Math.max(0, (t - 0.3) / 0.48) ** 1.15;
  const trunk = 0.17 * nose * Math.max(0.13, t < 0.78 ? taper : 0.14);
  // The tail: high and thin.
  const fin = t > 0.78 ? 0.24 * Math.sin(((t - 0.78) / 0.22) * Math.PI * 0.62) : 0;
  return [Math.max(0.004, trunk + fin), Math.max(0.004, trunk * (t > 0.78 ? 0.35 : 0.62))];
}

/** The umberfish puppet, 1.3 m long, its nose at the low end of x: the tail trails behind along the spine. */
export function makeUmberfish(): Mesh {
  const builder = new MeshBuilder([
    { name: 'back', baseColour: [0.36, 0.17, 0.07] },
    { name: 'belly', baseColour: [0.72, 0.55, 0.33] },
    { name: 'fin', baseColour: [0.55, 0.23, 0.1] },
  ]);
  builder.beginGroup('body');
  const at = (row: number, side: number): Vec3 => {
    const t = row / (RINGS - 1);
    const [high, wide] = body(t);
    const angle = (side / SIDES) * 2 * Math.PI;
    // A ridge along the back for a fin.
    const ridge = Math.max(0, Math.cos(angle)) ** 12 * 0.09 * Math.exp(-(((t - 0.42) / 0.16) ** 2));
    return [-0.65 + t * 1.3, Math.cos(angle) * high + ridge, Math.sin(angle) * wide];
  };
  const material = (row: number, side: number) => {
    if (row / RINGS > 0.78) return 'fin';
    const up = Math.cos(((side + 0.5) / SIDES) * 2 * Math.PI);
    return up > 0.93 && row > 12 && row < 26 ? 'fin' : up > -0.25 ? 'back' : 'belly';
  };
  const rows = builder.sheet(RINGS, SIDES, at, material, true);
  builder.face(rows[0], 'back');
  builder.face([...rows[RINGS - 1]].reverse(), 'fin');
  return builder.done();
}
