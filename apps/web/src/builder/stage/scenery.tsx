import { addAfterEffect, useThree } from '@react-three/fiber';
import { useEffect, useMemo, useState, type RefObject } from 'react';
import { Color, type Camera, type Vector3 } from 'three';
import { engine } from '../../engine/index.ts';
import { useStore } from '../../state/store.ts';
import { made } from './geometry.tsx';
import { drawnPictures } from './surface-pictures.ts';
import { keepThumbnail, pictureOf, stagePicture } from './thumbnail.ts';
import { View } from './view.ts';

/** The grid of metres. */
export function Ground() {
  const invalidate = useThree((s) => s.invalidate);
  const theme = useStore((s) => s.ui.theme);
  const colour = useMemo(() => {
    void theme;
    return new Color(getComputedStyle(document.documentElement).getPropertyValue('--stage-grid').trim() || '#b3936a');
  }, [theme]);
  useEffect(() => invalidate(), [colour, invalidate]);
  return <gridHelper args={[20, 20, colour, colour]} material-transparent material-opacity={0.35} />;
}

/** Makes the view and follows the size of the stage. */
export function Eye({ onView }: { onView(view: View): void }) {
  const { gl, set, size, invalidate } = useThree();
  const [view, setView] = useState<View | null>(null);
  useEffect(() => {
    const made = new View(
      gl.domElement,
      () => invalidate(),
      (camera) => set({ camera: camera as never }),
    );
    set({ camera: made.perspective });
    setView(made);
    onView(made);
    return () => made.dispose();
  }, [gl, set, invalidate, onView]);
  useEffect(() => view?.resize(size.width, size.height), [view, size]);
  return null;
}

/** Tells, on the page, which picture has really been drawn. */
export function DrawnMarker({
  request,
  frame,
  root,
  marked,
  holds,
  results,
  lines,
}: {
  request: number;
  frame: number;
  root: RefObject<HTMLDivElement | null>;
  /** The marked point, in world space. */
  marked: Vector3 | null;
  /** What can be taken hold of, in world space, and how many sets of lines are drawn. */
  holds: readonly Vector3[];
  /** How many of the things drawn are made by graphs. */
  results: number;
  lines: number;
}) {
  const { invalidate, gl, scene } = useThree();
  const get = useThree((s) => s.get);
  useEffect(() => {
    const take = (wide: number, high: number) => pictureOf(gl, scene, get().camera, wide, high);
    stagePicture.take = take;
    return () => {
      if (stagePicture.take === take) stagePicture.take = null;
    };
  }, [gl, scene, get]);
  useEffect(() => {
    invalidate();
    return addAfterEffect(() => {
      const data = root.current?.dataset;
      if (!data) return;
      data.drawn = String(request);
      data.frame = String(frame);
      data.geometries = String(made.geometries);
      data.pictures = String(drawnPictures.count);
      data.topologies = String(engine.geometry.topologiesReceived);
      data.taken = String(engine.geometry.takenBytes);
      data.mark = marked ? placeOnScreen(marked, get().camera, gl.domElement) : '';
      data.holds = holds.map((h) => placeOnScreen(h, get().camera, gl.domElement)).join(' ');
      data.results = String(results);
      data.lines = String(lines);
      if (request > 0) keepThumbnail(gl, scene, get().camera);
    });
  }, [request, frame, root, marked, holds, results, lines, invalidate, gl, scene, get]);
  return null;
}

/** Where a place is on the canvas, in pixels from its corner. */
function placeOnScreen(at: Vector3, camera: Camera, canvas: HTMLCanvasElement): string {
  const p = at.clone().project(camera);
  return `${Math.round(((p.x + 1) / 2) * canvas.clientWidth)},${Math.round(((1 - p.y) / 2) * canvas.clientHeight)}`;
}
