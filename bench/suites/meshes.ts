import { BufferAttribute, BufferGeometry } from 'three';
import { LoopSubdivision } from 'three-subdivide';
import {
  compileResponse,
  respond,
  RESPONSE_PRESETS,
  Evaluator,
  makeGrid,
  makeSphere,
  subdivide,
  trianglesOf,
  withPositions,
  type Mesh,
} from '@umberfish/core';
import { graph, node, project } from '../../packages/core/src/testing/build.ts';
import { compare, sink, type Result } from '../measure.ts';

/** Subdivision beside three-subdivide, and copies whose size follows a falloff beside a loop. */
export function meshesSuite(): Result[] {
  const mesh = makeGrid([4, 4], [141, 142]);
  const ball = makeSphere(1, 101, 100);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(ball.positions.slice(), 3));
  geometry.setIndex(new BufferAttribute(Uint32Array.from(trianglesOf(ball.topology).points), 1));
  // A topology that nobody knows yet, and meshes of one that is known.
  const unknown = (): Mesh => ({ ...mesh, topology: { ...mesh.topology } });
  const moved = Array.from({ length: 20 }, (_, k) => withPositions(mesh, mesh.positions.map((v) => v + 1e-3 * k))); // prettier-ignore
  subdivide(mesh, 1);
  let at = 0;
  const first = () => void (sink.value += subdivide(unknown(), 1).positions[0]);
  const again = () => void (sink.value += subdivide(moved[at++ % 20], 1).positions[0]);
  for (let i = 0; i < 6; i++) first();
  const settings = {
    split: false,
    uvSmooth: false,
    preserveEdges: false,
    flatOnly: false,
    maxTriangles: Infinity,
  };
  const theirs = () =>
    void (sink.value += LoopSubdivision.modify(geometry, 1, settings).attributes.position.count);
  return [
    compare(`Catmull–Clark, one level of ${mesh.topology.faceCount} faces, beside three-subdivide's step on as many triangles`, first, theirs, 'higher', 50, 4), // prettier-ignore
    compare('the same with moved points ÷ the first time: how much faster', again, first, 'higher', 2.5, 12),
    copiesResult(),
  ];
}

/** Fifty thousand copies whose size follows a falloff that changes, evaluated, beside a loop over their matrices. */
function copiesResult(): Result {
  const evaluator = new Evaluator({ cacheInBytes: 1e8 });
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
        [
          'grid.mesh > place.points',
          'dot.mesh > place.a',
          'place.copies > size.copies',
          'where.falloff > size.weight',
        ],
      ),
    ]);
  const wanted = [{ node: 'size', port: 'copies' }];
  let inner = 0.2;
  const evaluate = () => {
    inner += 1e-5;
    const value = evaluator.evaluate({ project: document(inner), frame: 1, wanted }).value(wanted[0]);
    if (value?.form !== 'copies') throw new Error('The graph gave no copies.');
    sink.value += value.copies.matrices[0];
    return value.copies;
  };
  const { matrices, count } = evaluate();
  const ease = compileResponse(RESPONSE_PRESETS['Ease up']);
  const byHand = () => {
    const out = Float64Array.from(matrices);
    for (let i = 0, o = 0; i < count; i++, o += 16) {
      const x = out[o + 12], y = out[o + 13], z = out[o + 14]; // prettier-ignore
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
  return compare(`${count.toLocaleString('en')} copies sized by a falloff, evaluated ÷ a hand-written loop`, () => void evaluate(), byHand, 'lower', 2, 20); // prettier-ignore
}
