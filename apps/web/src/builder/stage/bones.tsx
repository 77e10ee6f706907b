import { useThree } from '@react-three/fiber';
import { useLayoutEffect, useMemo } from 'react';
import { Color, type BufferAttribute } from 'three';
import { jointsOf, worldLookup, type Matrix, type ObjectRecord } from '@umberfish/core';
import { useStore } from '../../state/store.ts';
import { BONE_FACES, BONE_LINES, boneFaces, boneLines, bonesOf, type Bone } from './bone-shapes.ts';
import { INK, Lines } from './lines.tsx';
import { useColoured } from './use-coloured.ts';

const PLUM = new Color('#8a2f52');
/** As the handle's: x, y and z of a joint that is picked. */
const AXES = ['#a8432f', '#5f7a2e', '#2f6a8a'] as const;

interface Props {
  /** Everything that is seen. */
  objects: readonly ObjectRecord[];
  byId: ReadonlyMap<string, ObjectRecord>;
  matrixOf(object: string): Matrix;
  picked: ReadonlySet<string>;
}

/**
 * Joints as tapered bones, over everything since they are inside of what they move; plum where they are picked, with their
 * axes. Of a chain of which something is picked the rest is drawn too, faintly.
 */
export function Bones({ objects, byId, matrixOf, picked }: Props) {
  const theme = useStore((s) => s.ui.theme);
  const bones = useMemo(() => bonesOf(objects, matrixOf), [objects, matrixOf]);
  const rest = useMemo(() => {
    const chains = objects.filter((o) => o.type === 'chain' && hasPicked(objects, o.id, picked));
    if (chains.length === 0) return NO_BONES;
    const mine = new Set(chains.flatMap((c) => jointsOf(objects, c.id).map((j) => j.id)));
    return bonesOf(
      objects.filter((o) => mine.has(o.id)),
      worldLookup(byId, 'rest'),
    );
  }, [objects, byId, picked]);
  const restLines = useMemo(() => boneLines(rest), [rest]);
  const axes = useMemo(() => axesOf(bones, picked), [bones, picked]);
  if (bones.length === 0) return null;
  return (
    <>
      <Shapes bones={bones} picked={picked} ink={INK[theme]} />
      {rest.length > 0 && <Lines data={restLines} colour={INK[theme]} over opacity={0.22} />}
      {axes.map((data, k) => data.length > 0 && <Lines key={AXES[k]} data={data} colour={AXES[k]} over />)}
    </>
  );
}

const NO_BONES: readonly Bone[] = [];

const hasPicked = (objects: readonly ObjectRecord[], chain: string, picked: ReadonlySet<string>): boolean =>
  picked.has(chain) || jointsOf(objects, chain).some((j) => picked.has(j.id));

/** Lines along the own axes of joints that are picked, a quarter as long as their bone. */
function axesOf(bones: readonly Bone[], picked: ReadonlySet<string>): Float32Array[] {
  const lines: number[][] = [[], [], []];
  const seen = new Set<string>();
  for (const { joint, from, to, matrix } of bones) {
    if (!picked.has(joint) || seen.has(joint)) continue;
    seen.add(joint);
    const l = Math.max(0.05, 0.35 * Math.hypot(...to.map((v, k) => v - from[k])));
    for (let axis = 0; axis < 3; axis++) {
      const a = [matrix[axis * 4], matrix[axis * 4 + 1], matrix[axis * 4 + 2]];
      const w = Math.hypot(...a) || 1;
      lines[axis].push(...from, ...from.map((v, k) => v + (a[k] / w) * l));
    }
  }
  return lines.map((l) => Float32Array.from(l));
}

function Shapes({ bones, picked, ink }: { bones: readonly Bone[]; picked: ReadonlySet<string>; ink: string }) {
  const invalidate = useThree((s) => s.invalidate);
  const lines = useColoured(bones.length * BONE_LINES);
  const faces = useColoured(bones.length * BONE_FACES);
  useLayoutEffect(() => {
    const own = new Color(ink);
    for (const [geometry, data, each] of [
      [lines, boneLines(bones), BONE_LINES],
      [faces, boneFaces(bones), BONE_FACES],
    ] as const) {
      const position = geometry.getAttribute('position') as BufferAttribute;
      const colour = geometry.getAttribute('color') as BufferAttribute;
      (position.array as Float32Array).set(data);
      bones.forEach((b, i) => {
        const { r, g, b: blue } = picked.has(b.joint) ? PLUM : own;
        for (let k = i * each; k < (i + 1) * each; k += 3) colour.array.set([r, g, blue], k);
      });
      position.needsUpdate = true;
      colour.needsUpdate = true;
    }
    invalidate();
  }, [bones, picked, ink, lines, faces, invalidate]);
  return (
    <>
      <mesh geometry={faces} renderOrder={9} frustumCulled={false}>
        <meshBasicMaterial vertexColors transparent opacity={0.14} depthTest={false} depthWrite={false} />
      </mesh>
      <lineSegments geometry={lines} renderOrder={10} frustumCulled={false}>
        <lineBasicMaterial vertexColors transparent opacity={0.6} depthTest={false} />
      </lineSegments>
    </>
  );
}
