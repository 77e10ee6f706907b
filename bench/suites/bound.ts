import { fractalNoise3, makeGrid, makeNoise, makeSphere, normalsOf, type Mesh } from '@umberfish/core';
import { bindToCage } from '../../packages/core/src/deform/cage.ts';
import { bindToSurface } from '../../packages/core/src/deform/surface-bind.ts';
import { computeNormals } from '../../packages/core/src/geometry/normals.ts';
import { neighboursOf } from '../../packages/core/src/geometry/edges.ts';
import { faceCentres } from '../../packages/core/src/deform/loosen.ts';
import { trianglesOf } from '../../packages/core/src/geometry/triangles.ts';
import { evaluatorOf, graph, node, project } from '../../packages/core/src/testing/build.ts';
import { compare, sink, type Trial } from '../measure.ts';

const MOVED = 1.5;
const idle = () => {};

/**
 * Nodes that know something of their mesh beforehand (neighbours, what it is bound to), a dial moved at each turn, beside a
 * hand-written loop that knows as much; and the way of a dial to what the graphics card takes.
 */
export function boundTrials(): Trial[] {
  const mesh = makeGrid([4, 4], [349, 349]);
  for (let i = 0, p = mesh.positions as Float32Array; i < p.length; i += 3) p[i + 1] = 0.3 * Math.sin(3 * p[i] + p[i + 2]);
  return [smoothed(mesh), loosened(mesh), caged(mesh), carried(mesh), toCard()];
}

const source = node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } });
type Nodes = Parameters<typeof graph>[0];

/** Evaluates `it` for a dial; gives the positions it comes to. */
function evaluated(mesh: Mesh, nodesFor: (dial: number) => Nodes, wires: string[]) {
  const evaluator = evaluatorOf(mesh, { arrays: {} });
  const wanted = [{ node: 'it', port: 'mesh' }];
  const evaluate = (dial: number): Mesh => {
    const made = project([graph([source, ...nodesFor(dial)], wires)]);
    const value = evaluator.evaluate({ project: made, frame: 1, wanted, gesture: 'dial' }).value(wanted[0]);
    if (value?.form !== 'geometry') throw new Error('No mesh came out.');
    evaluator.settle();
    return value.mesh;
  };
  return Object.assign(evaluate, { arrays: evaluator.arrays });
}

/** A line for a node and a loop that give the same positions, or it says nothing. */
function line(name: string, ours: (dial: number) => Mesh, byHand: (dial: number) => Float32Array, target = MOVED): Trial {
  let step = 0;
  const dial = () => 0.5 + ++step * 1e-4;
  const mine = ours(0.5).positions;
  byHand(0.5).forEach((v, i) => {
    if (Math.abs(v - mine[i]) > 1e-4) throw new Error(`${name}: number ${i} is ${mine[i]}, by hand ${v}.`);
  });
  return compare(
    name,
    () => void (sink.value += ours(dial()).positions[1]),
    () => void (sink.value += byHand(dial())[1]),
    'lower',
    target,
    15,
  );
}

function smoothed(mesh: Mesh): Trial {
  const ours = evaluated(mesh, (weight) => [node('it', 'smooth', { inputs: { rounds: 4, weight }, settings: { pin: false } })], [
    'in.mesh > it.mesh',
  ]);
  const { starts, points } = neighboursOf(mesh.topology);
  const p = mesh.positions;
  const byHand = (weight: number) => {
    let from = p.slice();
    let to = p.slice();
    for (let round = 0; round < 4; round++) {
      for (let i = 0, o = 0; o < p.length; i++, o += 3) {
        let x = 0,
          y = 0,
          z = 0;
        const count = starts[i + 1] - starts[i];
        for (let k = starts[i]; k < starts[i + 1]; k++) {
          const q = points[k] * 3;
          x += from[q];
          y += from[q + 1];
          z += from[q + 2];
        }
        to[o] = (from[o] + x / count) / 2;
        to[o + 1] = (from[o + 1] + y / count) / 2;
        to[o + 2] = (from[o + 2] + z / count) / 2;
      }
      [from, to] = [to, from];
    }
    const out = new Float32Array(p.length);
    for (let o = 0; o < p.length; o++) out[o] = p[o] + (from[o] - p[o]) * weight;
    return out;
  };
  return line('Smooth, 4 rounds of 122,500 points ÷ a loop over neighbours known beforehand', ours, byHand);
}

function loosened(mesh: Mesh): Trial {
  const inputs = { spin: 180, shrink: 0.2, frequency: 3, time: 0, seed: 1, weight: 1 };
  const ours = evaluated(mesh, (drift) => [node('it', 'loosen-faces', { inputs: { ...inputs, drift } })], ['in.mesh > it.mesh']);
  const p = mesh.positions;
  const { faceCount, cornerCount, faceStarts, cornerPoints } = mesh.topology;
  const normals = normalsOf(mesh);
  const centres = faceCentres(mesh);
  const fields = [0, 1, 2, 3].map((i) => makeNoise(1 + i * 101));
  const byHand = (drift: number) => {
    const out = new Float32Array(cornerCount * 3);
    const shade = new Float32Array(cornerCount * 3);
    const r = new Float64Array(9);
    for (let f = 0; f < faceCount; f++) {
      const cx = centres[f * 3],
        cy = centres[f * 3 + 1],
        cz = centres[f * 3 + 2];
      let nx = 0,
        ny = 0,
        nz = 0;
      for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
        const a = cornerPoints[c] * 3;
        const b = cornerPoints[c + 1 < faceStarts[f + 1] ? c + 1 : faceStarts[f]] * 3;
        nx += (p[a + 1] - p[b + 1]) * (p[a + 2] + p[b + 2]);
        ny += (p[a + 2] - p[b + 2]) * (p[a] + p[b]);
        nz += (p[a] - p[b]) * (p[a + 1] + p[b + 1]);
      }
      const noise = (i: number) => fractalNoise3(fields[i], cx * 3, cy * 3, cz * 3, 1, 2, 0.5);
      const [x, y, z] = [noise(0), noise(1), noise(2)];
      const move = (drift * (1 + 0.8 * noise(3))) / Math.sqrt(nx * nx + ny * ny + nz * nz);
      const l = Math.sqrt(x * x + y * y + z * z);
      const [ux, uy, uz] = [x / l, y / l, z / l];
      const c = Math.cos(l * Math.PI * 1.7);
      const s = Math.sin(l * Math.PI * 1.7);
      const e = 1 - c;
      r[0] = c + ux * ux * e;
      r[1] = uy * ux * e + uz * s;
      r[2] = uz * ux * e - uy * s;
      r[3] = ux * uy * e - uz * s;
      r[4] = c + uy * uy * e;
      r[5] = uz * uy * e + ux * s;
      r[6] = ux * uz * e + uy * s;
      r[7] = uy * uz * e - ux * s;
      r[8] = c + uz * uz * e;
      for (let k = faceStarts[f], o = k * 3; k < faceStarts[f + 1]; k++, o += 3) {
        const i = cornerPoints[k] * 3;
        const dx = (p[i] - cx) * 0.8,
          dy = (p[i + 1] - cy) * 0.8,
          dz = (p[i + 2] - cz) * 0.8;
        out[o] = cx + r[0] * dx + r[3] * dy + r[6] * dz + nx * move;
        out[o + 1] = cy + r[1] * dx + r[4] * dy + r[7] * dz + ny * move;
        out[o + 2] = cz + r[2] * dx + r[5] * dy + r[8] * dz + nz * move;
        shade[o] = r[0] * normals[i] + r[3] * normals[i + 1] + r[6] * normals[i + 2];
        shade[o + 1] = r[1] * normals[i] + r[4] * normals[i + 1] + r[7] * normals[i + 2];
        shade[o + 2] = r[2] * normals[i] + r[5] * normals[i + 1] + r[8] * normals[i + 2];
      }
    }
    sink.value += shade[1];
    return out;
  };
  return line('Loosen Faces, drift of 121,801 faces moved ÷ a loop round the same noise', ours, byHand);
}

/** A place that moves with the dial, as a node's inputs, and by hand. */
const placed = (dial: number) => ({ translate: [dial, 0.2, 0] as const });
const movedBy = (rest: Mesh, dial: number): Float32Array =>
  rest.positions.map((v, i) => v + (i % 3 === 0 ? dial : i % 3 === 1 ? 0.2 : 0));

function caged(mesh: Mesh): Trial {
  const nodesFor = (dial: number) => [
    node('cage', 'make-sphere', { inputs: { radius: 4, rings: 6, segments: 8 } }),
    node('moved', 'transform', { inputs: placed(dial) }),
    node('it', 'cage'),
  ];
  const wires = ['cage.mesh > moved.mesh', 'moved.mesh > it.cage', 'cage.mesh > it.rest', 'in.mesh > it.mesh'];
  const ours = evaluated(mesh, nodesFor, wires);
  const cage = makeSphere(4, 6, 8);
  const { weights, cagePoints } = bindToCage(mesh, cage, idle);
  const p = mesh.positions;
  const byHand = (dial: number) => {
    const now = movedBy(cage, dial);
    const moves = Float64Array.from(now, (v, i) => v - cage.positions[i]);
    const out = new Float32Array(p.length);
    for (let o = 0, w = 0; o < p.length; o += 3) {
      let x = 0,
        y = 0,
        z = 0;
      for (let c = 0; c < cagePoints * 3; c += 3, w++) {
        x += weights[w] * moves[c];
        y += weights[w] * moves[c + 1];
        z += weights[w] * moves[c + 2];
      }
      out[o] = p[o] + x;
      out[o + 1] = p[o + 1] + y;
      out[o + 2] = p[o + 2] + z;
    }
    return out;
  };
  return line('Cage, its cage moved, 122,500 points ÷ a loop over weights known beforehand', ours, byHand);
}

function carried(mesh: Mesh): Trial {
  const nodesFor = (dial: number) => [
    node('driver', 'make-grid', { inputs: { width: 4, depth: 4, cellsX: 40, cellsZ: 40 } }),
    node('moved', 'transform', { inputs: placed(dial) }),
    node('it', 'surface-bind', { inputs: { faces: 4 } }),
  ];
  const wires = ['driver.mesh > moved.mesh', 'moved.mesh > it.driver', 'driver.mesh > it.rest', 'in.mesh > it.mesh'];
  const ours = evaluated(mesh, nodesFor, wires);
  const driver = makeGrid([4, 4], [40, 40]);
  const bound = bindToSurface(mesh, driver, 4, idle);
  const { points, count } = trianglesOf(driver.topology);
  const p = mesh.positions;
  const q = driver.positions;
  const byHand = (dial: number) => {
    const now = movedBy(driver, dial);
    const changes = new Float64Array(count * 12);
    for (let t = 0; t < count; t++) {
      // Edges and the unit normal, now as columns and at rest inverted.
      const at = [0, 1, 2].map((k) => points[t * 3 + k] * 3);
      const before = frame(q, at);
      const after = frame(now, at);
      const [a, b, c, d, e, f, g, h, i] = before;
      const det = a * (e * i - f * h) - d * (b * i - c * h) + g * (b * f - c * e);
      const back = [
        e * i - f * h,
        c * h - b * i,
        b * f - c * e,
        f * g - d * i,
        a * i - c * g,
        c * d - a * f,
        d * h - e * g,
        b * g - a * h,
        a * e - b * d,
      ].map((v) => v / det);
      for (let column = 0; column < 3; column++)
        for (let row = 0; row < 3; row++)
          changes[t * 12 + column * 3 + row] =
            after[row] * back[column * 3] + after[3 + row] * back[column * 3 + 1] + after[6 + row] * back[column * 3 + 2];
      for (let row = 0; row < 3; row++) {
        let v = now[at[0] + row];
        for (let k = 0; k < 3; k++) v -= changes[t * 12 + k * 3 + row] * q[at[0] + k];
        changes[t * 12 + 9 + row] = v;
      }
    }
    const out = new Float32Array(p.length);
    const { triangles, weights } = bound;
    for (let o = 0, k = 0; o < p.length; o += 3) {
      const x = p[o],
        y = p[o + 1],
        z = p[o + 2];
      let mx = 0,
        my = 0,
        mz = 0;
      for (const end = k + 4; k < end; k++) {
        const c = triangles[k] * 12;
        const w = weights[k];
        mx += w * (changes[c] * x + changes[c + 3] * y + changes[c + 6] * z + changes[c + 9]);
        my += w * (changes[c + 1] * x + changes[c + 4] * y + changes[c + 7] * z + changes[c + 10]);
        mz += w * (changes[c + 2] * x + changes[c + 5] * y + changes[c + 8] * z + changes[c + 11]);
      }
      out[o] = mx;
      out[o + 1] = my;
      out[o + 2] = mz;
    }
    return out;
  };
  return line('Surface Bind, its driver moved, 122,500 points ÷ a loop over what carries them', ours, byHand);
}

function frame(p: Readonly<Float32Array>, [a, b, c]: readonly number[]): number[] {
  const u = [0, 1, 2].map((k) => p[b + k] - p[a + k]);
  const v = [0, 1, 2].map((k) => p[c + k] - p[a + k]);
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const l = Math.hypot(n[0], n[1], n[2]);
  return [...u, ...v, ...n.map((x) => x / l)];
}

/** A dial of Bulge on a million points to positions and shading normals, ÷ adding a number to every point. */
function toCard(): Trial {
  const mesh = makeGrid([4, 4], [999, 999]);
  const ours = evaluated(mesh, (height) => [node('it', 'bulge', { inputs: { radius: 1.5, height } })], ['in.mesh > it.mesh']);
  let step = 0;
  const p = mesh.positions;
  return compare(
    'Bulge, height of 1,000,000 points moved, to arrays for the graphics card ÷ adding a number to every point',
    () => {
      const { positions, topology } = ours(0.5 + ++step * 1e-4);
      const normals = ours.arrays.room(positions.length);
      sink.value += computeNormals(normals, positions, topology, topology.cornerPoints, 'area')[1];
      ours.arrays.giveBack(normals);
    },
    () => {
      const out = new Float32Array(p.length);
      const by = step * 1e-3;
      for (let o = 0; o < out.length; o++) out[o] = p[o] + by;
      sink.value += out[1];
    },
    'lower',
    10,
    15,
  );
}
