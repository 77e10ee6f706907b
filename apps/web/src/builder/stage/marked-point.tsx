import { graphWithNode, rootGraph } from '@umberfish/core';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { shownResults } from '@umberfish/core';
import { PREVIEW_KEY } from '../../engine/request.ts';
import { store } from '../../state/store.ts';
import { formatNumber } from '../../ui/format.ts';
import type { DrawnItem } from './drawn-items.ts';
import { Lines } from './lines.tsx';
import { catalogue } from '../../state/catalogue.ts';

/** The thing on the stage whose points are marked: the preview, what is looked at, what is picked, or what the graph makes. */
export function markedItem(items: readonly DrawnItem[], node: string | null, objects: readonly string[]): DrawnItem | undefined {
  const project = store.getState().project.project;
  const where = project && node !== null ? graphWithNode(project, node) : undefined;
  const graphOf = project && where !== undefined ? rootGraph(project, where) : undefined;
  const results = project
    ? shownResults(catalogue(), project)
        .filter((r) => r.graph === graphOf?.id)
        .map((r) => r.node)
    : [];
  return (
    items.find((i) => i.id === PREVIEW_KEY) ??
    items.find((i) => i.ref?.node === node) ??
    items.find((i) => i.object !== null && objects.includes(i.object) && !i.ghost) ??
    items.find((i) => i.ref !== null && results.includes(i.ref.node))
  );
}

/** Where a point of a thing stands, in world space; null where it has no such point. */
export function markOn(item: DrawnItem | undefined, element: number | null): Vector3 | null {
  if (element === null) return null;
  if (!item || element >= item.mesh.topology.pointCount) return null;
  const p = item.mesh.positions;
  const at = new Vector3(p[element * 3], p[element * 3 + 1], p[element * 3 + 2]);
  if (item.matrix) {
    const m = item.matrix;
    at.set(
      m[0] * at.x + m[4] * at.y + m[8] * at.z + m[12],
      m[1] * at.x + m[5] * at.y + m[9] * at.z + m[13],
      m[2] * at.x + m[6] * at.y + m[10] * at.z + m[14],
    );
  }
  return at;
}

/** How far two places are apart, in words: along the line between them, and along each axis. */
export function measureWords(from: Vector3, to: Vector3): string {
  const apart = to.clone().sub(from);
  const parts = [apart.x, apart.y, apart.z].map((v, i) => `${'xyz'[i]} ${formatNumber(v)}`);
  return `${formatNumber(apart.length())} m apart (${parts.join(', ')})`;
}

/** The line that is measured along. */
export function Measure({ from, to }: { from: Vector3; to: Vector3 }) {
  const data = useMemo(() => Float32Array.of(from.x, from.y, from.z, to.x, to.y, to.z), [from, to]);
  return (
    <>
      <Lines data={data} colour="#8a2f52" over />
      <Mark at={to} />
    </>
  );
}

/** A dot on the marked point. */
export function Mark({ at }: { at: Vector3 }) {
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(Float32Array.of(at.x, at.y, at.z), 3));
    return g;
  }, [at.x, at.y, at.z]);
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, invalidate]);
  return (
    <points geometry={geometry} renderOrder={20} frustumCulled={false}>
      <pointsMaterial color="#8a2f52" size={10} sizeAttenuation={false} depthTest={false} transparent />
    </points>
  );
}
