import { useEffect, useState } from 'react';
import { useStore } from '../../state/store.ts';
import type { View } from './view.ts';

/** More pixels than this to a pixel of the page are not told apart. */
const SHARPEST = 2;
/** Each way, where drawing is slow. */
const COARSE = 0.5;
/** So long after the last move the stage is drawn sharply again (ms). */
const RESTS_AFTER = 250;

/** Pixels drawn to a pixel of the page: all that the screen has when the stage rests, fewer while something moves. */
export function useSharpness(view: View | null): number {
  const isPlaying = useStore((s) => s.ui.playing);
  const isCoarse = useStore((s) => s.ui.coarse);
  const [isMoving, setIsMoving] = useState(false);
  useEffect(() => {
    if (!view) return;
    let timer = 0;
    const start = () => {
      window.clearTimeout(timer);
      setIsMoving(true);
    };
    const end = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => setIsMoving(false), RESTS_AFTER);
    };
    view.controls.addEventListener('start', start);
    view.controls.addEventListener('end', end);
    return () => {
      window.clearTimeout(timer);
      view.controls.removeEventListener('start', start);
      view.controls.removeEventListener('end', end);
    };
  }, [view]);
  if (isCoarse) return COARSE;
  // Tests draw in software.
  if (navigator.webdriver) return 1;
  return isMoving || isPlaying ? 1 : Math.min(SHARPEST, window.devicePixelRatio || 1);
}
