import { BufferAttribute, BufferGeometry } from 'three';
import { LoopSubdivision } from 'three-subdivide';
import {
  CATALOGUE,
  compileResponse,
  respond,
  RESPONSE_PRESETS,
  edgesOf,
  Evaluator,
  makeGrid,
  makeSphere,
  subdivide,
  trianglesOf,
  withPositions,
  type Mesh,
  type Topology,
} from '@umberfish/core';
import { graph, node, project } from '../../packages/core/src/testing/build.ts';
import { compare, sink, type Trial } from '../measure.ts';

/** Subdivision beside three-subdivide, and copies whose size follows a falloff beside a loop. */
export function meshesSuite(): Trial[] {
  const mesh = makeGrid([4, 4], [141, 142]);
  const ball = makeSphere(1, 101, 100);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(ball.positions.slice(), 3));
  geometry.setIndex(new BufferAttribute(Uint32Array.from(trianglesOf(ball.topology).points), 1));
  // A topology that nobody knows yet, and meshes of one that is known.
  const unknown = (): Mesh => ({ ...mesh, topology: { ...mesh.topology } });
  const moved = Array.from({ length: 20 }, (_, k) =>
    withPositions(
      mesh,
      mesh.positions.map((v) => v + 1e-3 * k),
    ),
  );
  subdivide(mesh, 1);
  let at = 0;
  const first = () => void (sink.value += subdivide(unknown(), 1).positions[0]);
  const again = () => void (sink.value += subdivide(moved[at++ % 20], 1).positions[0]);
  for (let i = 0; i < 6; i++) first();
  const { starts, points, weights } = stencilsOf(mesh.topology);
  const byStencils = () => {
    const p = moved[at++ % 20].positions;
    const count = starts.length - 1;
    const out = new Float32Array(count * 3);
    for (let i = 0; i < count; i++) {
      let x = 0,
        y = 0,
        z = 0;
      for (let k = starts[i]; k < starts[i + 1]; k++) {
        const w = weights[k];
        const o = points[k] * 3;
        x += w * p[o];
        y += w * p[o + 1];
        z += w * p[o + 2];
      }
      out[i * 3] = x;
      out[i * 3 + 1] = y;
      out[i * 3 + 2] = z;
    }
    sink.value += out[0];
    return out;
  };
  const known = subdivide(moved[0], 1).positions;
  const apart = Math.max(
    ...byStencils()
      .subarray(0, 30_000)
      .map((v, i) => Math.abs(v - known[i])),
  );
  if (!(apart < 1e-5)) throw new Error(`Stencils give other points, by ${apart}.`);
  const settings = {
    split: false,
    uvSmooth: false,
    preserveEdges: false,
    flatOnly: false,
    maxTriangles: Infinity,
  };
  const theirs = () => void (sink.value += LoopSubdivision.modify(geometry, 1, settings).attributes.position.count);
  return [
    compare(
      `Catmull–Clark, one level of ${mesh.topology.faceCount} faces, beside three-subdivide's step on as many triangles`,
      first,
      theirs,
      'higher',
      50,
      4,
    ),
    compare('the same with moved points ÷ a loop over stencils worked out beforehand', again, byStencils, 'lower', 1.3, 30),
    copiesTrial(),
  ];
}

/**
 * What each point of a level is made of, packed: the weights of old points, worked out from the rules by hand for meshes
 * without creases (Catmull and Clark 1978; borders as curves).
 */
function stencilsOf(topology: Topology) {
  type Stencil = Map<number, number>;
  const mixed = (...parts: [Stencil, number][]): Stencil => {
    const sum: Stencil = new Map();
    for (const [stencil, share] of parts) for (const [p, w] of stencil) sum.set(p, (sum.get(p) ?? 0) + w * share);
    return sum;
  };
  const { pointCount, faceCount, faceStarts, cornerPoints } = topology;
  const { count: edgeCount, points: ends, cornerEdges } = edgesOf(topology);
  const own = (p: number): Stencil => new Map([[p, 1]]);
  const faces = Array.from({ length: faceCount }, (_, f): Stencil => {
    const corners = cornerPoints.subarray(faceStarts[f], faceStarts[f + 1]);
    return new Map(Array.from(corners, (p) => [p, 1 / corners.length]));
  });
  const facesOfEdge = Array.from({ length: edgeCount }, (): number[] => []);
  const facesOfPoint = Array.from({ length: pointCount }, (): number[] => []);
  const edgesOfPoint = Array.from({ length: pointCount }, (): number[] => []);
  for (let f = 0; f < faceCount; f++)
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
      facesOfEdge[cornerEdges[c]].push(f);
      facesOfPoint[cornerPoints[c]].push(f);
    }
  for (let e = 0; e < edgeCount; e++) for (const p of [ends[e * 2], ends[e * 2 + 1]]) edgesOfPoint[p].push(e);
  const middles = Array.from({ length: edgeCount }, (_, e) => mixed([own(ends[e * 2]), 0.5], [own(ends[e * 2 + 1]), 0.5]));
  const edges = middles.map((middle, e) => {
    const [f, g] = facesOfEdge[e];
    return g === undefined ? middle : mixed([middle, 0.5], [faces[f], 0.25], [faces[g], 0.25]);
  });
  const points = Array.from({ length: pointCount }, (_, p): Stencil => {
    const border = edgesOfPoint[p].filter((e) => facesOfEdge[e].length < 2);
    if (border.length === 2) return mixed([own(p), 0.5], [middles[border[0]], 0.25], [middles[border[1]], 0.25]);
    const n = edgesOfPoint[p].length;
    return mixed(
      [own(p), (n - 3) / n],
      ...edgesOfPoint[p].map((e): [Stencil, number] => [middles[e], 2 / n / n]),
      ...facesOfPoint[p].map((f): [Stencil, number] => [faces[f], 1 / n / facesOfPoint[p].length]),
    );
  });
  const all = [...points, ...faces, ...edges];
  const starts = new Int32Array(all.length + 1);
  all.forEach((s, i) => (starts[i + 1] = starts[i] + s.size));
  return {
    starts,
    points: Int32Array.from(all.flatMap((s) => [...s.keys()])),
    weights: Float64Array.from(all.flatMap((s) => [...s.values()])),
  };
}

/** Fifty thousand copies whose size follows a falloff that changes, evaluated, beside a loop over their matrices. */
function copiesTrial(): Trial {
  const evaluator = new Evaluator(CATALOGUE);
  const document = (inner: number) =>
    project([
      graph(
        [
          node('grid', 'make-grid', { inputs: { width: 5, depth: 5, cellsX: 249, cellsZ: 199 } }),
          node('dot', 'make-sphere', { inputs: { radius: 0.01, rings: 4, segments: 5 } }),
          node('place', 'place-copies'),
          node('where', 'shape-falloff', { inputs: { inner, outer: 2 } }),
          node('size', 'edit-copies', { inputs: { scale: 2 } }),
        ],
        ['grid.mesh > place.points', 'dot.mesh > place.a', 'place.copies > size.copies', 'where.falloff > size.weight'],
      ),
    ]);
  const wanted = [{ node: 'size', port: 'copies' }];
  let inner = 0.2;
  const evaluate = () => {
    inner += 1e-5;
    const value = evaluator.evaluate({ project: document(inner), frame: 1, wanted, gesture: 'inner' }).value(wanted[0]);
    evaluator.settle();
    if (value?.form !== 'copies') throw new Error('The graph gave no copies.');
    sink.value += value.copies.matrices[0];
    return value.copies;
  };
  const { matrices, count } = evaluate();
  const ease = compileResponse(RESPONSE_PRESETS['Ease up']);
  const byHand = () => {
    const out = Float64Array.from(matrices);
    for (let i = 0, o = 0; i < count; i++, o += 16) {
      const x = out[o + 12],
        y = out[o + 13],
        z = out[o + 14];
      let w = (2 - Math.sqrt(x * x + y * y + z * z)) / (2 - inner);
      w = respond(ease, w > 0 ? (w < 1 ? w : 1) : 0);
      const s = 1 + w;
      for (let column = 0; column < 12; column += 4) {
        out[o + column] *= s;
        out[o + column + 1] *= s;
        out[o + column + 2] *= s;
      }
    }
    sink.value += out[0];
  };
  return compare(
    `${count.toLocaleString('en')} copies sized by a falloff, evaluated ÷ a hand-written loop`,
    () => void evaluate(),
    byHand,
    'lower',
    1.5,
    20,
  );
}
