import { useEffect, useState } from 'react';
import { engine } from '../../engine/index.ts';
import { selectProject, useStore } from '../../state/store.ts';
import { INK, Lines } from './lines.tsx';

/** Frames that a trail has at most; longer ranges are walked in steps. */
const MOST = 600;

/** One object's way: pairs of places. */
export interface Trail {
  readonly id: string;
  readonly line: Float32Array;
  readonly ticks: Float32Array;
}

/** The ways of the objects whose trail is on, worked out anew when the project has changed. */
export function useMotionTrails(): readonly Trail[] {
  const project = useStore(selectProject);
  const objects = useStore((s) => s.ui.trails);
  const [trails, setTrails] = useState<readonly Trail[]>([]);

  useEffect(() => {
    let wanted = true;
    const known = objects.filter((id) => project?.objects.some((o) => o.id === id));
    if (!project || known.length === 0) {
      setTrails([]);
      return;
    }
    // After a moment without a change, so that dragging is not held up.
    const timer = window.setTimeout(() => {
      const { first, last } = project.range;
      const step = Math.max(1, Math.ceil((last - first + 1) / MOST));
      const frames: number[] = [];
      for (let f = first; f <= last; f += step) frames.push(f);
      engine
        .worlds(project, known, frames)
        .then((worlds) => {
          if (wanted) setTrails(known.map((id, i) => ({ id, ...trailOf(worlds, i, known.length) })));
        })
        // The page says that the evaluation ended; the next edit draws them.
        .catch(() => {});
    }, 250);
    return () => {
      wanted = false;
      window.clearTimeout(timer);
    };
  }, [project, objects]);

  return trails;
}

/** Where objects go over the range: a line, with a tick at each frame. */
export function MotionTrails({ trails }: { trails: readonly Trail[] }) {
  const theme = useStore((s) => s.ui.theme);
  return trails.map((t) => (
    <group key={t.id} userData={{ trail: t.id }}>
      <Lines data={t.line} colour={INK[theme]} over opacity={0.55} />
      <Lines data={t.ticks} colour="#8a2f52" over />
    </group>
  ));
}

/** Pairs of places for the line, and a small upright tick at each frame. */
function trailOf(worlds: Float64Array, which: number, count: number): { line: Float32Array; ticks: Float32Array } {
  const frames = worlds.length / 16 / count;
  const line: number[] = [];
  const ticks: number[] = [];
  for (let f = 0; f < frames; f++) {
    const o = (f * count + which) * 16 + 12;
    const [x, y, z] = [worlds[o], worlds[o + 1], worlds[o + 2]];
    ticks.push(x, y - 0.02, z, x, y + 0.02, z);
    if (f > 0) line.push(...worlds.slice(o - 16 * count, o - 16 * count + 3), x, y, z);
  }
  return { line: Float32Array.from(line), ticks: Float32Array.from(ticks) };
}
