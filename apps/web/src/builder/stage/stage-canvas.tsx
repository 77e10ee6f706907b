import { Canvas } from '@react-three/fiber';
import { useMemo, useState, type PointerEvent, type ReactNode } from 'react';
import { Color } from 'three';
import { controlOf, kindOf } from '@umberfish/core';
import { useStore } from '../../state/store.ts';
import { Bones } from './bones.tsx';
import { DrawnCurve } from './curve-editor.tsx';
import { boxedWords, copied, copyStride, isDrawnBySoftware, splitByBudget, thinnedWords } from './draw-budget.ts';
import { Geometry } from './geometry.tsx';
import { GroundShadow } from './ground-shadow.tsx';
import { boxLines } from './item-box.ts';
import { INK, Lines } from './lines.tsx';
import { Locators } from './locators.tsx';
import { Eye, Ground } from './scenery.tsx';
import { useSharpness } from './use-sharpness.ts';
import type { Standing } from './use-standing.ts';
import type { View } from './view.ts';

/** How lines look: curves that graphs make, and the two ends of falloffs. */
const LINE_LOOKS = {
  curve: { colour: INK.day, over: false, opacity: 0.9 },
  inner: { colour: '#8a2f52', over: true, opacity: 0.85 },
  outer: { colour: '#b26b1f', over: true, opacity: 0.6 },
} as const;

interface Props {
  standing: Standing;
  view: View | null;
  onView(view: View): void;
  /** A curve whose points show that they can be dragged. */
  opened?: string;
  on: {
    onPointerDown(e: PointerEvent): void;
    onPointerUp(e: PointerEvent): void;
    onPointerMove(e: PointerEvent): void;
    onPointerLeave(): void;
  };
  children: ReactNode;
}

/** The 3D view: what stands there, lit, on the ground; drawn on demand, never on its own; below the bar of tools. What else is drawn are children. */
export function StageCanvas({ standing, view, onView, opened, on, children }: Props) {
  const { picture, items, solid, meshes, register, objects, matrixOf } = standing;
  const picked = useStore((s) => s.ui.objects);
  const shading = useStore((s) => s.ui.shading);
  const theme = useStore((s) => s.ui.theme);
  const playing = useStore((s) => s.ui.playing);
  const sharpness = useSharpness(view);
  const [isSoftware, setSoftware] = useState(false);
  const all = useMemo(() => copied(items), [items]);
  const stride = copyStride(all, isSoftware);
  const pickedObjects = useMemo(() => new Set(picked), [picked]);
  const split = useMemo(() => splitByBudget(items, pickedObjects, isSoftware), [items, pickedObjects, isSoftware]);
  const boxes = useMemo(() => boxLines(split.boxed), [split.boxed]);
  const told = [thinnedWords(all, stride), boxedWords(split)].filter((w) => w !== undefined);
  const locators = useMemo(
    () => objects.filter((o) => kindOf(o).drawn === 'cross' || (kindOf(o).drawn === 'joint' && controlOf(o) !== null)),
    [objects],
  );
  return (
    <div className="absolute inset-x-0 top-9 bottom-0">
      <Canvas
        frameloop="demand"
        dpr={sharpness}
        gl={{ antialias: !navigator.webdriver, alpha: true, preserveDrawingBuffer: false }}
        onCreated={(s) => {
          s.gl.debug.checkShaderErrors = import.meta.env.DEV;
          setSoftware(isDrawnBySoftware(s.gl));
        }}
        {...on}
      >
        <Eye onView={onView} />
        <hemisphereLight args={[new Color('#fff4e0'), new Color('#6a4a38'), 1.5]} />
        <directionalLight position={[3, 6, 4]} intensity={2.1} color="#ffe6c2" />
        <directionalLight position={[-5, 2, -3]} intensity={0.7} color="#b9c6d8" />
        <Ground />
        {/* Tests draw in software, where it would be half of the work. */}
        {!navigator.webdriver && <GroundShadow meshes={meshes} solid={solid} playing={playing} />}
        {split.whole.map((item) => (
          <Geometry
            key={item.id}
            item={item}
            shading={shading}
            stride={stride}
            picked={item.object !== null && pickedObjects.has(item.object)}
            register={register}
          />
        ))}
        {boxes.length > 0 && <Lines data={boxes} colour={INK[theme]} over={false} opacity={0.35} />}
        <Locators objects={locators} byId={standing.byId} matrixOf={matrixOf} picked={pickedObjects} />
        <Bones objects={objects} byId={standing.byId} matrixOf={matrixOf} picked={pickedObjects} />
        {objects.map(
          (o) =>
            o.type === 'curve' && (
              <DrawnCurve
                key={o.id}
                curve={o.curve}
                matrix={matrixOf(o.id)}
                picked={pickedObjects.has(o.id)}
                showsPoints={opened === o.id}
              />
            ),
        )}
        {picture.lines.map((l) => (
          <Lines key={l.key} data={l.data} {...LINE_LOOKS[l.as]} {...(l.as === 'curve' ? { colour: INK[theme] } : {})} />
        ))}
        {children}
      </Canvas>
      {told.length > 0 && (
        <p
          data-thinned={stride}
          data-boxed={split.boxed.length}
          className="pointer-events-none absolute bottom-8 left-2 max-w-[calc(100%-16px)] rounded-sm bg-raised/85 px-1.5 py-0.5 text-[11px] text-ink"
        >
          {told.join(' ')}
        </p>
      )}
    </div>
  );
}
