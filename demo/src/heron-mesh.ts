import { randomFrom, type Mesh, type Vec3 } from '@umberfish/core';
import { MeshBuilder } from './builder.ts';

type Ring = readonly [at: Vec3, wide: number, high: number];

/** A limb through rings from one end to the other, closed at both; rings stand square to the way, upright as far as they can. */
function limb(
  builder: MeshBuilder,
  rings: readonly Ring[],
  sides: number,
  material: (row: number, side: number) => string,
): void {
  const across = (i: number): [Vec3, Vec3] => {
    const [a, b] = [rings[Math.max(0, i - 1)][0], rings[Math.min(rings.length - 1, i + 1)][0]];
    const d = b.map((v, k) => v - a[k]);
    const l = Math.hypot(...d);
    const u = d.map((v) => v / l);
    // Up, unless the limb itself goes up: then forward.
    const up = Math.abs(u[1]) > 0.75 ? [0, 0, 1] : [0, 1, 0];
    const s = u[0] * up[0] + u[1] * up[1] + u[2] * up[2];
    const h = up.map((v, k) => v - s * u[k]);
    const hl = Math.hypot(...h);
    const high = h.map((v) => v / hl) as unknown as Vec3;
    const wide: Vec3 = [u[1] * high[2] - u[2] * high[1], u[2] * high[0] - u[0] * high[2], u[0] * high[1] - u[1] * high[0]];
    return [wide, high];
  };
  const frames = rings.map((_, i) => across(i));
  const at = (row: number, side: number): Vec3 => {
    const [centre, wide, high] = rings[row];
    const [w, h] = frames[row];
    const angle = (side / sides) * 2 * Math.PI;
    return [0, 1, 2].map((k) => centre[k] + Math.cos(angle) * w[k] * wide + Math.sin(angle) * h[k] * high) as unknown as Vec3;
  };
  const rows = builder.sheet(rings.length, sides, at, material, true);
  builder.face(rows[0], material(0, 0));
  builder.face([...rows[rows.length - 1]].reverse(), material(rings.length - 1, 0));
}

/** Rings between others, evenly: so that limbs bend smoothly. */
const finer = (rings: readonly Ring[], times: number): Ring[] =>
  rings.flatMap((r, i) => {
    const next = rings[i + 1];
    if (!next) return [r];
    return Array.from({ length: times }, (_, k): Ring => {
      const t = k / times;
      const mix = (a: number, b: number) => a + (b - a) * t;
      return [r[0].map((v, axis) => mix(v, next[0][axis])) as unknown as Vec3, mix(r[1], next[1]), mix(r[2], next[2])];
    });
  });

/** A heron puppet, 1.7 m high, looking along z, its feet on the ground. */
export function makeHeron(): Mesh {
  const builder = new MeshBuilder([
    { name: 'slate', baseColour: [0.22, 0.25, 0.28] },
    { name: 'pale', baseColour: [0.62, 0.58, 0.5] },
    { name: 'horn', baseColour: [0.6, 0.33, 0.08] },
    { name: 'shank', baseColour: [0.32, 0.24, 0.13] },
  ]);
  const body: Ring[] = [
    [[0, 0.93, -0.44], 0.015, 0.012],
    [[0, 0.96, -0.3], 0.06, 0.03],
    [[0, 1, -0.14], 0.11, 0.1],
    [[0, 1.02, 0.04], 0.135, 0.15],
    [[0, 1.05, 0.2], 0.125, 0.15],
    [[0, 1.1, 0.32], 0.085, 0.11],
    [[0, 1.17, 0.39], 0.05, 0.06],
    [[0, 1.27, 0.38], 0.04, 0.04],
    [[0, 1.38, 0.31], 0.034, 0.036],
    [[0, 1.49, 0.28], 0.032, 0.034],
    [[0, 1.6, 0.32], 0.034, 0.038],
    [[0, 1.665, 0.4], 0.045, 0.05],
    [[0, 1.67, 0.49], 0.04, 0.042],
    [[0, 1.66, 0.56], 0.018, 0.022],
    [[0, 1.64, 0.72], 0.009, 0.01],
    [[0, 1.625, 0.82], 0.003, 0.003],
  ];
  const fine = finer(body, 4);
  builder.beginGroup('body');
  limb(builder, fine, 16, (row, side) => {
    if (row > fine.length - 11) return 'horn';
    const up = Math.sin(((side + 0.5) / 16) * 2 * Math.PI);
    return up > 0.1 || row > fine.length - 20 ? 'slate' : 'pale';
  });
  for (const [name, x] of [
    ['left', 1],
    ['right', -1],
  ] as const) {
    builder.beginGroup(`${name} leg`);
    const leg: Ring[] = [
      [[0.085 * x, 0.97, -0.01], 0.05, 0.06],
      [[0.09 * x, 0.82, -0.04], 0.034, 0.042],
      [[0.09 * x, 0.66, -0.075], 0.018, 0.02],
      [[0.09 * x, 0.56, -0.09], 0.02, 0.02],
      [[0.09 * x, 0.46, -0.075], 0.014, 0.014],
      [[0.09 * x, 0.25, -0.035], 0.012, 0.012],
      [[0.09 * x, 0.06, 0], 0.015, 0.015],
      [[0.09 * x, 0.025, 0.005], 0.018, 0.018],
    ];
    limb(builder, finer(leg, 5), 10, (row) => (row < 8 ? 'pale' : 'shank'));
    for (const [dx, dz] of [
      [0, 0.2],
      [0.07, 0.15],
      [-0.07, 0.15],
      [0, -0.09],
    ]) {
      const toe: Ring[] = [
        [[0.09 * x, 0.028, 0.004], 0.014, 0.014],
        [[(0.09 + dx * 0.5) * x, 0.022, dz * 0.5], 0.012, 0.012],
        [[(0.09 + dx) * x, 0.012, dz], 0.004, 0.005],
      ];
      limb(builder, finer(toe, 4), 8, () => 'shank');
    }
    builder.beginGroup(`${name} wing`);
    const wing: Ring[] = [
      [[0.1 * x, 1.1, 0.16], 0.11, 0.022],
      [[0.24 * x, 1.11, 0.1], 0.15, 0.02],
      [[0.4 * x, 1.12, 0.02], 0.17, 0.016],
      [[0.58 * x, 1.12, 0.06], 0.17, 0.014],
      [[0.78 * x, 1.11, 0.04], 0.14, 0.01],
      [[0.98 * x, 1.1, -0.04], 0.09, 0.007],
      [[1.12 * x, 1.09, -0.12], 0.02, 0.004],
    ];
    limb(builder, finer(wing, 4), 12, (_, side) => (side > 5 ? 'pale' : 'slate'));
  }
  return builder.done();
}

/** Shingle that lies uneven: a sheet of 3 by 5 metres, in low humps. */
export function makeShingle(): Mesh {
  const builder = new MeshBuilder([{ name: 'shingle', baseColour: [0.36, 0.31, 0.25] }]);
  const random = randomFrom(12);
  const humps = Array.from({ length: 26 }, () => [
    random() * 3 - 1.5,
    random() * 5 - 2.5,
    0.25 + random() * 0.4,
    random() * 0.11,
  ]);
  const height = (x: number, z: number) =>
    humps.reduce(
      (sum, [cx, cz, r, h]) => sum + h * Math.exp(-((x - cx) ** 2 + (z - cz) ** 2) / (r * r)),
      0.05 * Math.sin(z * 1.1),
    );
  builder.sheet(
    101,
    61,
    (row, column) => {
      const [x, z] = [1.5 - column * 0.05, row * 0.05 - 2.5];
      return [-x, height(-x, z), z];
    },
    () => 'shingle',
    false,
  );
  return builder.done();
}
