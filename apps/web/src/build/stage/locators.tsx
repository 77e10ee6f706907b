import { useThree } from '@react-three/fiber';
import { useLayoutEffect, useMemo } from 'react';
import { BufferAttribute, BufferGeometry, Color, Matrix4 } from 'three';
import type { Matrix } from '@umberfish/core';

const REACH = 0.16;

/** Three axes through a diamond: plain enough to read at any turn. */
const SHAPE = (() => {
  const r = REACH;
  const d = REACH * 0.45;
  const lines = [
    [-r, 0, 0, r, 0, 0], [0, -r, 0, 0, r, 0], [0, 0, -r, 0, 0, r],
    [d, 0, 0, 0, d, 0], [0, d, 0, -d, 0, 0], [-d, 0, 0, 0, -d, 0], [0, -d, 0, d, 0, 0],
    [d, 0, 0, 0, 0, d], [0, 0, d, -d, 0, 0], [-d, 0, 0, 0, 0, -d], [0, 0, -d, d, 0, 0],
  ]; // prettier-ignore
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(lines.flat()), 3));
  return geometry;
})();

/** A locator: drawn over everything, plum when it is picked. */
export function Locator({ matrix, picked }: { matrix: Matrix; picked: boolean }) {
  const invalidate = useThree((s) => s.invalidate);
  const m = useMemo(() => new Matrix4().fromArray(Array.from(matrix)), [matrix]);
  const colour = useMemo(() => new Color(picked ? '#8a2f52' : '#33241a'), [picked]);
  useLayoutEffect(() => invalidate(), [m, colour, invalidate]);
  return (
    <lineSegments geometry={SHAPE} matrixAutoUpdate={false} matrix={m} renderOrder={10} frustumCulled={false}>
      <lineBasicMaterial color={colour} depthTest={false} transparent />
    </lineSegments>
  );
}
