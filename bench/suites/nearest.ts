import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { MeshBVH, SAH } from 'three-mesh-bvh';
import { makeSphere, randomFrom, SpatialIndex, trianglesOf } from '@umberfish/core';
import { compare, sink, type Result } from '../measure.ts';

/** Nearest faces of a bumpy sphere of about 80,000 triangles, beside three-mesh-bvh with its best options. */
export function nearestSuite(): Result[] {
  const mesh = makeSphere(1, 200, 201);
  const bumpy = mesh.positions.map((v, i) => v * (1 + 0.1 * Math.sin(Math.floor(i / 3) * 0.7)));
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
  const near = Float32Array.from({ length: queries * 3 }, (_, i) => bumpy[i % bumpy.length] * 1.02);
  const place = new Vector3();
  const target = { point: new Vector3(), distance: 0, faceIndex: 0 };
  const ask = (at: Float32Array) => ({
    ours() {
      let sum = 0;
      for (let i = 0; i < at.length; i += 3) {
        ours.nearest(at[i], at[i + 1], at[i + 2]);
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
  const scattered = ask(far);
  const coherent = ask(near);
  const named = `nearest face, ${count.toLocaleString('en')} triangles`;
  return [
    compare(`${named}, random places, queries per second ÷ three-mesh-bvh's`, scattered.ours, scattered.theirs, 'higher', 3.5, 6), // prettier-ignore
    compare(
      `${named}, places near the surface in mesh order`,
      coherent.ours,
      coherent.theirs,
      'higher',
      6,
      6,
    ),
    compare('building the index ÷ three-mesh-bvh (centre split, its fastest)', () => void (sink.value += new SpatialIndex(bumpy, 3, points).size), () => void (sink.value += new MeshBVH(geometry()).geometry.id), 'lower', 2, 6), // prettier-ignore
    compare(
      'refitting it ÷ three-mesh-bvh',
      () => ours.refit(bumpy),
      () => theirs.refit(),
      'lower',
      1.3,
      10,
    ),
  ];
}
