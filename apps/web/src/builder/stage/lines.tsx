import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import { BufferAttribute, BufferGeometry, Matrix4 } from 'three';
import type { Matrix } from '@umberfish/core';

interface Props {
  /** Pairs of xyz. */
  data: Float32Array;
  colour: string;
  /** Drawn over everything, or hidden behind what is in front. */
  over?: boolean;
  opacity?: number;
  matrix?: Matrix;
}

/** Straight lines on the stage. */
export function Lines({ data, colour, over = false, opacity = 1, matrix }: Props) {
  const invalidate = useThree((s) => s.invalidate);
  const geometry = useMemo(() => {
    const made = new BufferGeometry();
    made.setAttribute('position', new BufferAttribute(data, 3));
    return made;
  }, [data]);
  const m = useMemo(() => (matrix ? new Matrix4().fromArray(Array.from(matrix)) : new Matrix4()), [matrix]);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, m, colour, opacity, invalidate]);
  return (
    <lineSegments geometry={geometry} matrixAutoUpdate={false} matrix={m} renderOrder={over ? 9 : 3} frustumCulled={false}>
      <lineBasicMaterial color={colour} depthTest={!over} transparent opacity={opacity} />
    </lineSegments>
  );
}

/** The ink of the page, which is light at night. */
export const INK = { day: '#33241a', night: '#efe4d3' } as const;
