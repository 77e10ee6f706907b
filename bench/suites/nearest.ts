import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { MeshBVH, SAH } from 'three-mesh-bvh';
import { makeSphere, randomFrom, SpatialIndex, trianglesOf } from '@umberfish/core';
import { compare, sink, type Trial } from '../measure.ts';

/** Nearest faces of a bumpy sphere of about 80,000 triangles, beside three-mesh-bvh with its best options. */
export function nearestSuite(): Trial[] {
  const mesh = makeSphere(1, 200, 201);
  const bump = (x: number, y: number, z: number) =>
    1 + 0.06 * Math.sin(7 * x + 1) * Math.sin(6 * y) + 0.03 * Math.sin(19 * z + 4 * y);
  const bumpy = Float32Array.from(mesh.positions);
  for (let i = 0; i < bumpy.length; i += 3) {
    const size = bump(bumpy[i], bumpy[i + 1], bumpy[i + 2]);
    for (let axis = 0; axis < 3; axis++) bumpy[i + axis] *= size;
  }
  const { points, count } = trianglesOf(mesh.topology);
  const geometry = () => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(bumpy.slice(), 3));
    g.setIndex(new BufferAttribute(Uint32Array.from(points), 1));
    return g;
  };
  const theirs = new MeshBVH(geometry(), { strategy: SAH, targetLeafSize: 6 });
  const ours = new SpatialIndex(bumpy, 3, points);
  const queries = 20_000;
  const random = randomFrom(5);
  const far = Float32Array.from({ length: queries * 3 }, () => random() * 3 - 1.5);
  // A waving grid laid over half of it, in the order of its rows.
  const across = 200;
  const near = new Float32Array(queries * 3);
  for (let i = 0, o = 0; i < queries; i++, o += 3) {
    const [u, v] = [((i % across) / across) * Math.PI, (Math.floor(i / across) / (queries / across)) * 0.8 * Math.PI + 0.3];
    const at = [Math.sin(v) * Math.cos(u), Math.cos(v), Math.sin(v) * Math.sin(u)];
    const size = bump(at[0], at[1], at[2]) + 0.02 + 0.01 * Math.sin(9 * u);
    for (let axis = 0; axis < 3; axis++) near[o + axis] = at[axis] * size;
  }
  const place = new Vector3();
  const target = { point: new Vector3(), distance: 0, faceIndex: 0 };
  const ask = (at: Float32Array, warm: boolean) => ({
    ours() {
      let sum = 0;
      let last = -1;
      for (let i = 0; i < at.length; i += 3) {
        const found = ours.nearest(at[i], at[i + 1], at[i + 2], Infinity, last);
        if (warm) last = found;
        sum += ours.distanceSquared;
      }
      sink.value += sum;
    },
    theirs() {
      let sum = 0;
      for (let i = 0; i < at.length; i += 3) {
        theirs.closestPointToPoint(place.set(at[i], at[i + 1], at[i + 2]), target);
        sum += target.distance;
      }
      sink.value += sum;
    },
  });
  const scattered = ask(far, false);
  const coherent = ask(near, true);
  const named = `nearest face, ${count.toLocaleString('en')} triangles`;
  // Ours take the same from process to process within a few hundredths, theirs up to a quarter more: held against their best.
  return [
    compare(`${named}, random places, queries per second ÷ three-mesh-bvh's`, scattered.ours, scattered.theirs, 'higher', 3, 20),
    compare(`${named}, places near the surface in mesh order`, coherent.ours, coherent.theirs, 'higher', 5, 30),
    compare(
      'building the index ÷ three-mesh-bvh (centre split, its fastest)',
      () => void (sink.value += new SpatialIndex(bumpy, 3, points).size),
      () => void (sink.value += new MeshBVH(geometry()).geometry.id),
      'lower',
      2,
      30,
    ),
    compare(
      'refitting it ÷ three-mesh-bvh',
      () => ours.refit(bumpy),
      () => theirs.refit(),
      'lower',
      1.3,
      80,
    ),
  ];
}
