import { add, normalize, scale, subtract, type Mesh, type Vec3 } from '@umberfish/core';
import { MeshBuilder } from './builder.ts';

const RINGS = 96;
const SEGMENTS = 112;
const SPINES = 150;

/** A pufferfish about the origin, nose towards +x, about 1.5 m long: body with spines, fins, eyes. */
export function makePufferfish(): Mesh {
  const b = new MeshBuilder([
    { name: 'Back', baseColour: [0.52, 0.19, 0.075] },
    { name: 'Belly', baseColour: [0.86, 0.68, 0.46] },
    { name: 'Fin', baseColour: [0.36, 0.11, 0.05] },
    { name: 'Eye', baseColour: [0.9, 0.84, 0.7] },
    { name: 'Pupil', baseColour: [0.035, 0.022, 0.018] },
  ]);
  b.beginGroup('Body');
  body(b);
  b.beginGroup('Tail');
  fin(
    b,
    12,
    9,
    (s, t) => {
      const spread = (s - 0.5) * 2;
      const out = 0.34 * (0.72 + 0.28 * Math.abs(spread)) * t;
      return [-0.7 - out, spread * (0.07 + 0.25 * t), 0.045 * Math.sin(spread * 2.2) * t];
    },
    0.03,
  );
  b.beginGroup('Dorsal fin');
  fin(
    b,
    12,
    7,
    (s, t) => [
      -0.1 - 0.36 * s - 0.15 * t,
      surfaceTop(-0.1 - 0.36 * s) - 0.03 + 0.25 * t * Math.sin(Math.PI * (0.18 + 0.72 * s)),
      0.02 * Math.sin(s * 9) * t,
    ],
    0.026,
  );
  for (const side of [1, -1] as const) {
    b.beginGroup(side > 0 ? 'Left fin' : 'Right fin');
    fin(
      b,
      10,
      8,
      (s, t) => {
        const spread = (s - 0.5) * 2;
        return [
          0.12 - 0.24 * t - 0.05 * Math.abs(spread),
          -0.04 + spread * (0.07 + 0.13 * t),
          side * (0.56 + 0.2 * t + 0.02 * Math.cos(spread * 6) * t),
        ];
      },
      0.024,
      side,
    );
  }
  b.beginGroup('Eyes');
  for (const side of [1, -1] as const) eye(b, [0.4, 0.26, side * 0.39], normalize([0.5, 0.26, side]));
  return b.done();
}

/** Half height of the body along its length (x in −0.72..0.72). */
function profile(u: number): number {
  const round = Math.sqrt(Math.max(0, 1 - Math.pow(Math.abs(2 * u - 0.94) / 1.06, 2.3)));
  const snout = u < 0.13 ? Math.sqrt(Math.max(0, u / 0.13)) * 0.3 + (u / 0.13) * 0.7 : 1;
  const waist = u > 0.82 ? 1 - 0.35 * Math.pow((u - 0.82) / 0.18, 2) : 1;
  return 0.6 * round * snout * waist + 0.02 * Math.sin(Math.PI * Math.min(1, u));
}

const lengthOf = (u: number): number => 0.72 - 1.44 * u;

function surfaceTop(x: number): number {
  return profile((0.72 - x) / 1.44) * 0.98;
}

function smoothBody(u: number, angle: number): Vec3 {
  const r = profile(u);
  const y = Math.cos(angle);
  const z = Math.sin(angle);
  const belly = y < 0 ? 1.06 : 0.98;
  return [lengthOf(u), r * y * belly, r * z * 0.96];
}

function body(b: MeshBuilder): void {
  const spines = spinePlaces();
  const at = (row: number, column: number): Vec3 => {
    const u = (row + 1) / (RINGS + 1);
    const angle = (column / SEGMENTS) * 2 * Math.PI;
    const p = smoothBody(u, angle);
    const outward = normalize([p[0] * 0.55, p[1], p[2]]);
    let bump = 0;
    for (const s of spines) {
      const d = subtract(p, s);
      const squared = d[0] * d[0] + d[1] * d[1] + d[2] * d[2];
      if (squared < 0.0064) bump = Math.max(bump, Math.pow(1 - Math.sqrt(squared) / 0.08, 1.8));
    }
    return add(p, scale(outward, bump * 0.055));
  };
  // The belly's edge wavers a little.
  const material = (row: number, column: number) => {
    const angle = ((column + 0.5) / SEGMENTS) * 2 * Math.PI;
    return Math.cos(angle) < -0.22 + 0.07 * Math.sin(row * 0.45) + 0.04 * Math.sin(row * 1.3 + 1) ? 'Belly' : 'Back';
  };
  const rows = b.sheet(RINGS, SEGMENTS, at, material, true);
  const nose = b.point([0.725, 0, 0]);
  const end = b.point([-0.728, 0, 0]);
  for (let c = 0; c < SEGMENTS; c++) {
    const d = (c + 1) % SEGMENTS;
    b.face([nose, rows[0][c], rows[0][d]], 'Pupil');
    b.face([end, rows[RINGS - 1][d], rows[RINGS - 1][c]], 'Back');
  }
}

/** Spines spread evenly by the golden angle, none on the snout, the tail or the eyes. */
function spinePlaces(): Vec3[] {
  const places: Vec3[] = [];
  for (let i = 0; i < SPINES; i++) {
    const u = 0.2 + (0.66 * (i + 0.5)) / SPINES;
    const p = smoothBody(u, i * 2.399963);
    if (Math.hypot(p[0] - 0.4, p[1] - 0.26, Math.abs(p[2]) - 0.39) > 0.21) places.push(p);
  }
  return places;
}

/** A thin lens over a sheet (s along the root, t outwards), closed along its rim; `side` turns it inside out. */
function fin(
  b: MeshBuilder,
  rows: number,
  columns: number,
  at: (s: number, t: number) => Vec3,
  thickness: number,
  side: 1 | -1 = 1,
): void {
  const place = (r: number, c: number, face: number): Vec3 => {
    const s = r / (rows - 1);
    const t = c / (columns - 1);
    const p = at(s, t);
    const e = 1e-3;
    const ds = subtract(at(Math.min(1, s + e), t), at(Math.max(0, s - e), t));
    const dt = subtract(at(s, Math.min(1, t + e)), at(s, Math.max(0, t - e)));
    const n = normalize([ds[1] * dt[2] - ds[2] * dt[1], ds[2] * dt[0] - ds[0] * dt[2], ds[0] * dt[1] - ds[1] * dt[0]]);
    const ray = 0.65 + 0.35 * Math.abs(Math.sin(s * Math.PI * 5));
    const thick = thickness * Math.sqrt(Math.max(0, 1 - t * t)) * Math.sqrt(Math.max(0, Math.sin(Math.PI * s))) * ray;
    return add(p, scale(n, thick * face));
  };
  const rim = (r: number, c: number) => r === 0 || r === rows - 1 || c === columns - 1;
  const front = Array.from({ length: rows }, (_, r) => Array.from({ length: columns }, (_c, c) => b.point(place(r, c, 1))));
  const back = front.map((row, r) => row.map((p, c) => (rim(r, c) ? p : b.point(place(r, c, -1)))));
  for (let r = 0; r + 1 < rows; r++) {
    for (let c = 0; c + 1 < columns; c++) {
      const quad = (g: number[][]) => [g[r][c], g[r + 1][c], g[r + 1][c + 1], g[r][c + 1]];
      b.face(side > 0 ? quad(front) : quad(front).reverse(), 'Fin');
      b.face(side > 0 ? quad(back).reverse() : quad(back), 'Fin');
    }
  }
}

function eye(b: MeshBuilder, centre: Vec3, look: Vec3): void {
  const radius = 0.125;
  const side = normalize([look[2], 0, -look[0]]);
  const up = normalize([
    look[1] * side[2] - look[2] * side[1],
    look[2] * side[0] - look[0] * side[2],
    look[0] * side[1] - look[1] * side[0],
  ]);
  const rings = 12;
  const segments = 24;
  const at = (r: number, s: number): Vec3 => {
    const tilt = ((r + 1) / (rings + 1)) * Math.PI * 0.72;
    const angle = (s / segments) * 2 * Math.PI;
    const out = Math.sin(tilt) * radius;
    return add(
      centre,
      add(scale(look, Math.cos(tilt) * radius * 0.8), add(scale(side, Math.cos(angle) * out), scale(up, Math.sin(angle) * out))),
    );
  };
  const rows = b.sheet(rings, segments, at, (r) => (r < 4 ? 'Pupil' : 'Eye'), true);
  const front = b.point(add(centre, scale(look, radius * 0.8)));
  for (let s = 0; s < segments; s++) b.face([front, rows[0][s], rows[0][(s + 1) % segments]], 'Pupil');
}
