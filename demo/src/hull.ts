import type { Mesh, Vec3 } from '@umberfish/core';
import { MeshBuilder } from './builder.ts';

/** A small clinker boat about the origin, bow towards +x, 2.2 m long, open above; its water line is y = 0.
 * @param along and `round` points from stern to bow and from rim to rim. */
export function makeHull(along = 96, round = 56): Mesh {
  const b = new MeshBuilder([
    { name: 'Planks', baseColour: [0.36, 0.2, 0.095] },
    { name: 'Bottom paint', baseColour: [0.33, 0.075, 0.045] },
    { name: 'Inside', baseColour: [0.5, 0.36, 0.22] },
  ]);
  b.beginGroup('Outside');
  const outside = (r: number, c: number): Vec3 => place(r / (along - 1), c / (round - 1), 0);
  const skin = b.sheet(
    along,
    round,
    outside,
    (r, c) => (outside(r, c)[1] + outside(r, c + 1)[1] < 0.06 ? 'Bottom paint' : 'Planks'),
    false,
  );
  b.beginGroup('Inside');
  const inner = b.sheet(
    along,
    round,
    (r, c) => place(r / (along - 1), 1 - c / (round - 1), 0.035),
    () => 'Inside',
    false,
  );
  // The rim joins the two skins along both sides, and at bow and stern.
  b.beginGroup('Rim');
  for (let r = 0; r + 1 < along; r++) {
    b.face([skin[r][0], inner[r][round - 1], inner[r + 1][round - 1], skin[r + 1][0]], 'Planks');
    b.face([skin[r + 1][round - 1], inner[r + 1][0], inner[r][0], skin[r][round - 1]], 'Planks');
  }
  for (let c = 0; c + 1 < round; c++) {
    const d = round - 1 - c;
    b.face([skin[0][c], skin[0][c + 1], inner[0][d - 1], inner[0][d]], 'Planks');
    b.face([skin[along - 1][c + 1], skin[along - 1][c], inner[along - 1][d], inner[along - 1][d - 1]], 'Planks');
  }
  return b.done();
}

/** A place on the hull: s from stern to bow, t from the left rim under the keel to the right one; `inwards` in metres. */
function place(s: number, t: number, inwards: number): Vec3 {
  const x = -1.1 + 2.2 * s;
  const fullness = Math.pow(Math.sin(Math.PI * (0.12 + 0.86 * s)), 0.62);
  const beam = Math.max(0.012, 0.46 * fullness - inwards);
  const keel = -0.24 + 0.16 * Math.pow(Math.abs(2 * s - 0.9), 3) + inwards;
  const rim = 0.3 + 0.16 * Math.pow(Math.abs(2 * s - 0.95), 2.4);
  const angle = Math.PI * (t - 0.5);
  const side = Math.sin(angle);
  const flare = Math.sign(side) * Math.pow(Math.abs(side), 0.72);
  const rise = Math.pow(Math.abs(side), 2.6);
  // Seven planks a side stand a little proud of one another.
  const lap = inwards === 0 ? 0.008 * ((Math.abs(t - 0.5) * 14) % 1) : 0;
  return [x, keel + (rim - keel) * rise, (beam + lap) * flare];
}
