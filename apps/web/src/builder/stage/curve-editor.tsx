import {
  movePart,
  placeOfPart,
  transformPoint,
  type CurvePick,
  type CurveRecord,
  type Matrix,
  type ObjectRecord,
  type Vec3,
  changeSpline,
  type ObjectOf,
} from '@umberfish/core';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import type { Vector3 } from 'three';
import { BufferAttribute, BufferGeometry, Matrix4 } from 'three';
import { applyEdit, store, useStore } from '../../state/store.ts';
import { controlLines, drawnLines, handleLines, holds, snapped, toOwn } from './curve-points.ts';
import { INK, Lines } from './lines.tsx';
import { useHandle } from './use-handle.ts';
import type { View } from './view.ts';

interface CurveProps {
  curve: CurveRecord;
  matrix: Matrix;
  picked: boolean;
  /** Shows what can be dragged. */
  showsPoints: boolean;
}

/** A drawn curve on the stage. */
export function DrawnCurve({ curve, matrix, picked, showsPoints }: CurveProps) {
  const ink = INK[useStore((s) => s.ui.theme)];
  const points = useMemo(() => (showsPoints ? holds(curve, null).map((h) => h.at) : []), [curve, showsPoints]);
  return (
    <>
      <Lines
        data={drawnLines(curve)}
        colour={picked ? '#8a2f52' : ink}
        over={picked}
        opacity={picked ? 1 : 0.85}
        matrix={matrix}
      />
      <Dots at={points} matrix={matrix} colour={ink} size={8} />
    </>
  );
}

interface EditorProps {
  view: View;
  object: ObjectRecord;
  curve: CurveRecord;
  matrix: Matrix;
  pick: CurvePick | null;
  /** The place on a surface under a place on the stage, for snapping. */
  surfaceUnder(at: Vector3): Vec3 | undefined;
}

/** Points and handles of the picked curve, and the handle on the one that is taken hold of. */
export function CurveEditor(props: EditorProps) {
  const { curve, matrix, pick } = props;
  const ink = INK[useStore((s) => s.ui.theme)];
  const lines = useMemo(() => handleLines(curve, pick), [curve, pick]);
  const control = useMemo(() => controlLines(curve), [curve]);
  const all = useMemo(() => holds(curve, pick), [curve, pick]);
  const isPicked = (p: CurvePick) => p.spline === pick?.spline && p.point === pick.point && p.part === pick.part;
  const spline = pick ? curve.splines[pick.spline] : undefined;
  const at = pick && placeOfPart(spline, pick.point, pick.part);
  return (
    <>
      <Lines data={lines} colour="#b26b1f" over matrix={matrix} />
      <Lines data={control} colour="#7a6a5a" over opacity={0.6} matrix={matrix} />
      <Dots
        at={all.filter((h) => h.pick.part === 'at' && !isPicked(h.pick)).map((h) => h.at)}
        matrix={matrix}
        colour={ink}
        size={8}
      />
      <Dots
        at={all.filter((h) => h.pick.part !== 'at' && !isPicked(h.pick)).map((h) => h.at)}
        matrix={matrix}
        colour="#b26b1f"
        size={7}
      />
      <Dots at={all.filter((h) => isPicked(h.pick)).map((h) => h.at)} matrix={matrix} colour="#8a2f52" size={11} />
      {pick && at && <PointHandle key={`${pick.spline} ${pick.point} ${pick.part}`} {...props} pick={pick} at={at} />}
    </>
  );
}

function Dots({ at, matrix, colour, size }: { at: readonly Vec3[]; matrix: Matrix; colour: string; size: number }) {
  const invalidate = useThree((s) => s.invalidate);
  const geometry = useMemo(() => {
    const made = new BufferGeometry();
    made.setAttribute('position', new BufferAttribute(Float32Array.from(at.flat()), 3));
    return made;
  }, [at]);
  const m = useMemo(() => new Matrix4().fromArray(Array.from(matrix)), [matrix]);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, m, invalidate]);
  if (at.length === 0) return null;
  return (
    <points geometry={geometry} matrixAutoUpdate={false} matrix={m} renderOrder={20} frustumCulled={false}>
      <pointsMaterial color={colour} size={size} sizeAttenuation={false} depthTest={false} transparent />
    </points>
  );
}

function PointHandle({ view, object, matrix, pick, at, surfaceUnder }: EditorProps & { pick: CurvePick; at: Vec3 }) {
  const snap = useStore((s) => s.ui.snap);
  const { proxy, controls, invalidate, isDragged } = useHandle<true>(view, 0.7, {
    begin: () => true,
    move(handle, _start, gesture) {
      const { x, y, z } = handle.position;
      const onSurface = snap === 'surface' && pick.part === 'at' ? surfaceUnder(handle.position) : undefined;
      const to = toOwn(matrix, onSurface ?? snapped([x, y, z], pick.part === 'at' ? snap : 'none'));
      if (!to) return;
      applyEdit(
        'Move curve point',
        changeSpline(object.id, pick.spline, (s) => movePart(s, pick.point, pick.part, to)),
        gesture,
      );
    },
  });
  useEffect(() => {
    controls.setMode('translate');
    controls.setSpace('world');
  }, [controls]);
  // While it is dragged the handle leads; else it stands at the point.
  useEffect(() => {
    if (isDragged()) return;
    proxy.position.set(...transformPoint(matrix, at));
    proxy.updateMatrixWorld();
    invalidate();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- whether it is dragged is asked, not followed
  }, [at, matrix, proxy, invalidate]);
  return null;
}

/** The curve that is picked, with its record, when it is the only thing picked. */
export function pickedCurve(): ObjectOf<'curve'> | undefined {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  const object = ui.objects.length === 1 ? project?.objects.find((o) => o.id === ui.objects[0]) : undefined;
  return object?.type === 'curve' ? object : undefined;
}
