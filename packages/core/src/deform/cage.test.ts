import fc from 'fast-check';
import { expect, test } from 'vitest';
import { makeSphere } from '../geometry/primitives.ts';
import { makeMesh, withPositions } from '../geometry/mesh.ts';
import { bindToCage, followCage } from './cage.ts';

const coordinate = fc.double({ min: -1.5, max: 1.5, noNaN: true });
const cage = makeSphere(2, 4, 5);
const { pointCount } = cage.topology;

test('any number of points, odd or even, each with its own weight: what the weights of a loop by hand come to', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(coordinate, coordinate, coordinate), { maxLength: 7 }),
      fc.array(coordinate, { minLength: pointCount * 3, maxLength: pointCount * 3 }),
      fc.boolean(),
      (places, moves, isOne) => {
        const mesh = makeMesh(Float32Array.from(places.flat()), Int32Array.of(0), new Int32Array(0));
        const now = withPositions(
          cage,
          cage.positions.map((v, i) => v + moves[i]),
        );
        const weight = Float32Array.from(isOne ? [0.5] : places.map((_, i) => i / 4));
        const bound = bindToCage(mesh, cage, () => {});
        const out = followCage(
          new Float32Array(places.length * 3).fill(NaN),
          mesh.positions,
          bound,
          cage.positions,
          now.positions,
          { data: weight, step: isOne ? 0 : 1 },
        );
        places.forEach((_, p) => {
          for (let axis = 0; axis < 3; axis++) {
            let move = 0;
            for (let c = 0; c < pointCount; c++)
              move += bound.weights[p * pointCount + c] * (now.positions[c * 3 + axis] - cage.positions[c * 3 + axis]);
            const right = mesh.positions[p * 3 + axis] + weight[isOne ? 0 : p] * move;
            expect(out[p * 3 + axis]).toBeCloseTo(right, 4);
          }
        });
      },
    ),
    { numRuns: 60 },
  );
});
