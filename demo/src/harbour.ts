import { randomFrom, type Mesh, type Vec3 } from '@umberfish/core';
import { MeshBuilder } from './builder.ts';

/** The quay: courses of chamfered stones under a row of coping slabs, standing in the water along z = 0. */
export function makeQuayWall(): Mesh {
  const b = new MeshBuilder([
    { name: 'Stone', baseColour: [0.3, 0.235, 0.18] },
    { name: 'Wet stone', baseColour: [0.16, 0.125, 0.1] },
    { name: 'Coping', baseColour: [0.44, 0.35, 0.26] },
  ]);
  const random = randomFrom(12);
  for (let course = 0; course < 4; course++) {
    b.beginGroup(`Course ${course + 1}`);
    let x = -3.4 - (course % 2) * 0.35;
    while (x < 3.3) {
      const width = 0.62 + random() * 0.35;
      const y = -0.75 + course * 0.44;
      const jut = random() * 0.07;
      chamferedBox(b, [x, y, -0.7], [x + width - 0.015, y + 0.425, jut], 0.035, course < 2 ? 'Wet stone' : 'Stone');
      x += width;
    }
  }
  b.beginGroup('Coping');
  for (let x = -3.5; x < 3.4; x += 1) chamferedBox(b, [x, 1.01, -0.78], [x + 0.985, 1.15, 0.1], 0.03, 'Coping');
  return b.done();
}

/** A lantern on an iron post, base at the origin, 2.1 m high. */
export function makeLantern(): Mesh {
  const b = new MeshBuilder([
    { name: 'Iron', baseColour: [0.07, 0.05, 0.045] },
    { name: 'Glow', baseColour: [1, 0.62, 0.2] },
  ]);
  b.beginGroup('Post');
  turned(
    b,
    12,
    [
      [0, 0],
      [0.16, 0],
      [0.16, 0.06],
      [0.07, 0.12],
      [0.045, 0.3],
      [0.04, 1.45],
      [0.06, 1.5],
      [0.03, 1.54],
      [0.1, 1.6],
      [0, 1.6],
    ],
    'Iron',
    false,
  );
  b.beginGroup('Lamp');
  turned(
    b,
    6,
    [
      [0, 1.6],
      [0.12, 1.62],
      [0.19, 1.9],
      [0, 1.9],
    ],
    'Glow',
    true,
  );
  turned(
    b,
    6,
    [
      [0, 1.9],
      [0.24, 1.9],
      [0.05, 2.04],
      [0.02, 2.1],
      [0, 2.1],
    ],
    'Iron',
    true,
  );
  return b.done();
}

/** A lumpy mooring buoy, 0.9 m high, standing on the water line at its middle. */
export function makeBuoy(): Mesh {
  const b = new MeshBuilder([
    { name: 'Paint', baseColour: [0.62, 0.16, 0.09] },
    { name: 'Band', baseColour: [0.85, 0.76, 0.6] },
    { name: 'Rope', baseColour: [0.35, 0.24, 0.13] },
  ]);
  b.beginGroup('Float');
  const rings = 26;
  const profile = Array.from({ length: rings }, (_, i): [number, number] => {
    const t = i / (rings - 1);
    const angle = t * Math.PI;
    return [0.36 * Math.pow(Math.sin(angle), 0.8) * (1 + 0.03 * Math.sin(t * 40)), -0.42 * Math.cos(angle)];
  });
  turned(b, 40, profile, (row) => (row > 10 && row < 15 ? 'Band' : 'Paint'), false);
  b.beginGroup('Ring');
  const segments = 24;
  const round = 10;
  const at = (r: number, s: number): Vec3 => {
    const a = (r / segments) * 2 * Math.PI;
    const t = (s / round) * 2 * Math.PI;
    const out = 0.1 + 0.025 * Math.cos(t);
    return [Math.cos(a) * out, 0.48 + Math.sin(a) * out, 0.025 * Math.sin(t)];
  };
  b.sheet(segments + 1, round, at, () => 'Rope', true);
  return b.done();
}

/** A profile of (radius, height) turned about y; ends at radius 0 become single points. */
function turned(
  b: MeshBuilder,
  segments: number,
  profile: readonly (readonly [number, number])[],
  material: string | ((row: number) => string),
  flat: boolean,
): void {
  const name = (row: number) => (typeof material === 'string' ? material : material(row));
  const rows = profile.map(([radius, height]) =>
    radius < 1e-9
      ? [b.point([0, height, 0])]
      : Array.from({ length: segments }, (_, s) => {
          const a = (s / segments) * 2 * Math.PI;
          return b.point([Math.cos(a) * radius, height, Math.sin(a) * radius]);
        }),
  );
  for (let r = 0; r + 1 < rows.length; r++) {
    for (let s = 0; s < segments; s++) {
      const t = (s + 1) % segments;
      const [low, high] = [rows[r], rows[r + 1]];
      if (low.length === 1 && high.length === 1) continue;
      if (low.length === 1) b.face([low[0], high[s], high[t]], name(r), flat);
      else if (high.length === 1) b.face([low[s], high[0], low[t]], name(r), flat);
      else b.face([low[s], high[s], high[t], low[t]], name(r), flat);
    }
  }
}

/** A box between two corners with its edges cut at 45°: 24 points, 6 sides, 12 edges, 8 corners. */
function chamferedBox(b: MeshBuilder, low: Vec3, high: Vec3, cut: number, material: string): void {
  const index = new Map<string, number>();
  // The point of corner (sx, sy, sz) that lies on the side of the given axis.
  const at = (signs: readonly number[], axis: number): number => {
    const key = `${signs.join()}/${axis}`;
    let p = index.get(key);
    if (p === undefined) {
      const v = [0, 1, 2].map((a) => (signs[a] > 0 ? high[a] : low[a]) - (a === axis ? 0 : signs[a] * cut)) as unknown as Vec3;
      index.set(key, (p = b.point(v)));
    }
    return p;
  };
  const centre = [0, 1, 2].map((a) => (low[a] + high[a]) / 2);
  // Every face is turned so that it looks away from the middle of the box.
  const outward = (points: number[], direction: readonly number[], places: readonly (readonly number[])[]) => {
    const [p, q, r] = places;
    const u = q.map((v, i) => v - p[i]);
    const w = r.map((v, i) => v - p[i]);
    const n = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
    const facing = n[0] * direction[0] + n[1] * direction[1] + n[2] * direction[2];
    b.face(facing > 0 ? points : [...points].reverse(), material);
  };
  const place = (signs: readonly number[], axis: number) =>
    [0, 1, 2].map((a) => (signs[a] > 0 ? high[a] : low[a]) - (a === axis ? 0 : signs[a] * cut) - centre[a]);
  const add = (ends: readonly (readonly [readonly number[], number])[], direction: readonly number[]) =>
    outward(
      ends.map(([s, a]) => at(s, a)),
      direction,
      ends.map(([s, a]) => place(s, a)),
    );
  for (let axis = 0; axis < 3; axis++) {
    const u = (axis + 1) % 3;
    const v = (axis + 2) % 3;
    const signs = (a: number, su: number, sv: number) => {
      const s = [0, 0, 0];
      s[axis] = a;
      s[u] = su;
      s[v] = sv;
      return s;
    };
    for (const side of [1, -1]) {
      const ring = [
        [1, 1],
        [-1, 1],
        [-1, -1],
        [1, -1],
      ].map(([a, c]) => [signs(side, a, c), axis] as const);
      add(ring, signs(side, 0, 0));
    }
    for (const su of [1, -1]) {
      for (const sv of [1, -1]) {
        add(
          [
            [signs(1, su, sv), u],
            [signs(1, su, sv), v],
            [signs(-1, su, sv), v],
            [signs(-1, su, sv), u],
          ],
          signs(0, su, sv),
        );
      }
    }
  }
  for (const sx of [1, -1])
    for (const sy of [1, -1])
      for (const sz of [1, -1])
        add(
          [0, 1, 2].map((a) => [[sx, sy, sz], a] as const),
          [sx, sy, sz],
        );
}
