import { useThree } from '@react-three/fiber';
import { useEffect, useLayoutEffect, useMemo } from 'react';
import { BufferAttribute, BufferGeometry, Color } from 'three';
import type { Matrix, ObjectRecord } from '@umberfish/core';

const REACH = 0.16;

/** Three axes through a diamond: plain enough to read at any turn. Ends of lines, one after the other. */
const SHAPE = (() => {
  const r = REACH;
  const d = REACH * 0.45;
  return [
    [-r, 0, 0, r, 0, 0],
    [0, -r, 0, 0, r, 0],
    [0, 0, -r, 0, 0, r],
    [d, 0, 0, 0, d, 0],
    [0, d, 0, -d, 0, 0],
    [-d, 0, 0, 0, -d, 0],
    [0, -d, 0, d, 0, 0],
    [d, 0, 0, 0, 0, d],
    [0, 0, d, -d, 0, 0],
    [-d, 0, 0, 0, 0, -d],
    [0, 0, -d, d, 0, 0],
  ].flat();
})();
const INK = new Color('#33241a');
const PLUM = new Color('#8a2f52');

interface Props {
  objects: readonly ObjectRecord[];
  matrixOf(object: string): Matrix;
  picked: ReadonlySet<string>;
}

/** Locators: drawn over everything and all at once, however many they are; plum when they are picked. */
export function Locators({ objects, matrixOf, picked }: Props) {
  const invalidate = useThree((s) => s.invalidate);
  const geometry = useMemo(() => {
    const made = new BufferGeometry();
    const size = objects.length * SHAPE.length;
    made.setAttribute('position', new BufferAttribute(new Float32Array(size), 3));
    made.setAttribute('color', new BufferAttribute(new Float32Array(size), 3));
    return made;
  }, [objects.length]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  useLayoutEffect(() => {
    const position = geometry.getAttribute('position') as BufferAttribute;
    const colour = geometry.getAttribute('color') as BufferAttribute;
    objects.forEach(({ id }, i) => {
      const at = i * SHAPE.length;
      placeShape(position.array as Float32Array, at, matrixOf(id));
      const { r, g, b } = picked.has(id) ? PLUM : INK;
      for (let o = at; o < at + SHAPE.length; o += 3) colour.array.set([r, g, b], o);
    });
    position.needsUpdate = true;
    colour.needsUpdate = true;
    invalidate();
  }, [geometry, objects, matrixOf, picked, invalidate]);
  if (objects.length === 0) return null;
  return (
    <lineSegments geometry={geometry} renderOrder={10} frustumCulled={false}>
      <lineBasicMaterial vertexColors depthTest={false} transparent />
    </lineSegments>
  );
}

function placeShape(out: Float32Array, at: number, m: Matrix): void {
  for (let k = 0; k < SHAPE.length; k += 3) {
    const [x, y, z] = [SHAPE[k], SHAPE[k + 1], SHAPE[k + 2]];
    for (let row = 0; row < 3; row++) out[at + k + row] = m[row] * x + m[4 + row] * y + m[8 + row] * z + m[12 + row];
  }
}
