import { useEffect, useState } from 'react';
import { Frustum, Matrix4, type Box3 } from 'three';
import type { View } from './view.ts';

/** It is looked whether things are in view so long after something moved (ms). */
const LOOKS_AFTER = 200;

interface Props {
  view: View;
  /** What is called so, and the box round it in the world; the box is asked for only now and then. */
  name: string;
  boxOf(): Box3;
  onShow(): void;
}

/** Says that what is picked is not in view, with a way to it. */
export function OutOfView({ view, name, boxOf, onShow }: Props) {
  const [isOut, setIsOut] = useState(false);
  useEffect(() => {
    let timer = 0;
    const look = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => setIsOut(!sees(view, boxOf())), LOOKS_AFTER);
    };
    look();
    view.controls.addEventListener('change', look);
    return () => {
      window.clearTimeout(timer);
      view.controls.removeEventListener('change', look);
    };
  }, [view, boxOf]);
  if (!isOut) return null;
  return (
    <p
      data-out-of-view
      className="absolute right-2 bottom-18 flex max-w-[60%] items-center gap-2 rounded border border-line-strong bg-raised px-2 py-1 text-xs"
    >
      <span className="truncate">{name} is out of view.</span>
      <button type="button" className="shrink-0 text-umber underline" onClick={onShow}>
        Show
      </button>
    </p>
  );
}

/** Whether any part of a box is in view; nothing is where there is no box. */
function sees({ camera }: View, box: Box3): boolean {
  if (box.isEmpty()) return true;
  camera.updateMatrixWorld();
  const through = new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
  return new Frustum().setFromProjectionMatrix(through).intersectsBox(box);
}
