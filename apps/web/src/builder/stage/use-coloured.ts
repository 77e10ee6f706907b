import { useEffect, useMemo } from 'react';
import { BufferAttribute, BufferGeometry } from 'three';

/** Room for so many numbers of places, and as many of colours; given back when it is no longer drawn. */
export function useColoured(size: number): BufferGeometry {
  const geometry = useMemo(() => {
    const made = new BufferGeometry();
    made.setAttribute('position', new BufferAttribute(new Float32Array(size), 3));
    made.setAttribute('color', new BufferAttribute(new Float32Array(size), 3));
    return made;
  }, [size]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  return geometry;
}
