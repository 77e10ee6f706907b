import { useMemo, useSyncExternalStore } from 'react';
import { DoubleSide, Matrix4 } from 'three';
import { useBuffers } from '../builder/stage/geometry.tsx';
import type { DrawnMesh } from '../engine/geometry-store.ts';
import { engine } from '../engine/index.ts';

const BEFORE = '#3f5f63';
const AFTER = '#8a2f52';

/** What is picked at frames before (blue) and after (plum), seen through. */
export function FrameGhosts() {
  const { ghosts, meshes, frame } = useSyncExternalStore(engine.geometry.subscribe, engine.geometry.get);
  return ghosts.map((g) => {
    const mesh = meshes.get(g.key);
    const away = Math.abs(g.frame - frame);
    return (
      mesh && (
        <Ghost
          key={`${g.frame} ${g.key} ${mesh.topology.id}`}
          mesh={mesh}
          matrix={g.matrix}
          colour={g.frame < frame ? BEFORE : AFTER}
          opacity={Math.max(0.05, 0.13 - away * 0.005)}
        />
      )
    );
  });
}

interface Props {
  mesh: DrawnMesh;
  matrix: Float64Array | null;
  colour: string;
  opacity: number;
}

function Ghost({ mesh, matrix, colour, opacity }: Props) {
  const buffers = useBuffers(mesh);
  const m = useMemo(() => (matrix ? new Matrix4().fromArray(Array.from(matrix)) : new Matrix4()), [matrix]);
  return (
    <mesh geometry={buffers.surface} matrixAutoUpdate={false} matrix={m} frustumCulled={false} renderOrder={4}>
      <meshBasicMaterial color={colour} transparent opacity={opacity} depthWrite={false} side={DoubleSide} />
    </mesh>
  );
}
