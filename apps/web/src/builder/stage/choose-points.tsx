import { counted, assetIdOf, type ObjectOf, type PointSet, setsOf, changeObjectOf } from '@umberfish/core';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useState } from 'react';
import { BufferAttribute, BufferGeometry, Matrix4, Vector3 } from 'three';
import { engine } from '../../engine/index.ts';
import { applyEdit, selectProject, store, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { plainNumber } from '../../ui/format.ts';
import type { DrawnItem } from './drawn-items.ts';
import type { View } from './view.ts';

/** The point set that is being chosen, with its object. */
export function chosenSet(): { object: ObjectOf<'mesh'>; set: PointSet } | null {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  const object = project?.objects.find((o): o is ObjectOf<'mesh'> => o.id === ui.choosing?.object && o.type === 'mesh');
  const set = object?.sets.find((s) => s.name === ui.choosing?.set);
  return object && set ? { object, set } : null;
}

/** Writes the points of the set that is being chosen, in order, each once. */
export function writeSet(points: readonly number[], label = 'Choose points', gesture: string | null = null): void {
  const now = chosenSet();
  if (!now) return;
  const next = [...new Set(points)].sort((a, b) => a - b);
  const sets = now.object.sets.map((s) => (s.name === now.set.name ? { ...s, points: next } : s));
  applyEdit(label, changeObjectOf('mesh', now.object.id, { sets }), gesture);
}

/** Takes a point in, or out when it is in. */
export function togglePoint(point: number): void {
  const points = chosenSet()?.set.points ?? [];
  writeSet(points.includes(point) ? points.filter((p) => p !== point) : [...points, point]);
}

/** Points of an item whose place on the screen lies in a box of client coordinates. */
export function pointsInBox(item: DrawnItem, view: View, canvas: DOMRect, box: DOMRect): number[] {
  const { positions, topology } = item.mesh;
  const toScreen = new Matrix4().multiplyMatrices(view.camera.projectionMatrix, view.camera.matrixWorldInverse);
  if (item.matrix) toScreen.multiply(new Matrix4().fromArray(Array.from(item.matrix)));
  const at = new Vector3();
  const found: number[] = [];
  for (let p = 0; p < topology.pointCount; p++) {
    at.set(positions[p * 3], positions[p * 3 + 1], positions[p * 3 + 2]).applyMatrix4(toScreen);
    const x = canvas.left + ((at.x + 1) / 2) * canvas.width;
    const y = canvas.top + ((1 - at.y) / 2) * canvas.height;
    if (x >= box.left && x <= box.right && y >= box.top && y <= box.bottom && at.z < 1) found.push(p);
  }
  return found;
}

/** How wide the brush is, from its middle (pixels). */
export const BRUSH = 26;

/** Points of an item under the brush, on the side that is seen: as near to where the surface was hit as the brush is wide there. */
export function pointsUnderBrush(item: DrawnItem, view: View, canvas: DOMRect, hit: Vector3): number[] {
  const { positions, topology } = item.mesh;
  const beside = hit.clone().project(view.camera);
  beside.x += (2 * BRUSH) / canvas.width;
  const reach = beside.unproject(view.camera).distanceTo(hit);
  const toWorld = item.matrix ? new Matrix4().fromArray(Array.from(item.matrix)) : null;
  const at = new Vector3();
  const found: number[] = [];
  for (let p = 0; p < topology.pointCount; p++) {
    at.set(positions[p * 3], positions[p * 3 + 1], positions[p * 3 + 2]);
    if (toWorld) at.applyMatrix4(toWorld);
    if (at.distanceTo(hit) <= reach) found.push(p);
  }
  return found;
}

/** Dots on the points of the set. */
export function ChosenDots({ item, points }: { item: DrawnItem; points: readonly number[] }) {
  const invalidate = useThree((s) => s.invalidate);
  const geometry = useMemo(() => {
    const data = new Float32Array(points.length * 3);
    const { positions, topology } = item.mesh;
    points.forEach((p, i) => {
      if (p < topology.pointCount) data.set(positions.subarray(p * 3, p * 3 + 3), i * 3);
    });
    const made = new BufferGeometry();
    made.setAttribute('position', new BufferAttribute(data, 3));
    return made;
  }, [item.mesh, points]);
  const matrix = useMemo(() => (item.matrix ? new Matrix4().fromArray(Array.from(item.matrix)) : new Matrix4()), [item.matrix]);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, invalidate]);
  return (
    <points geometry={geometry} matrixAutoUpdate={false} matrix={matrix} renderOrder={19} frustumCulled={false}>
      <pointsMaterial color="#8a2f52" size={4.5} sizeAttenuation={false} depthTest={false} transparent />
    </points>
  );
}

/** Over the stage while points are chosen: how, and what to do with what is chosen. */
export function ChooseBar() {
  const choosing = useStore((s) => s.ui.choosing);
  const project = useStore(selectProject);
  const table = useStore((s) => s.ui.port !== null);
  const send = useSend();
  const [range, setRange] = useState(false);
  const object = project?.objects.find((o) => o.id === choosing?.object);
  const set = setsOf(object).find((s) => s.name === choosing?.set);
  if (!object || !set) return null;
  const change = (how: 'grow' | 'shrink' | 'invert') =>
    void engine
      .changePoints(assetIdOf(object) ?? '', set.points, how)
      .then((points) => writeSet(points, `${how[0].toUpperCase()}${how.slice(1)} set`));
  const small = '!h-6 !px-1.5 text-xs';
  return (
    <div
      data-foot-bar
      data-choosing={set.points.length}
      className="absolute inset-x-2 bottom-8 flex flex-wrap items-center gap-x-1 gap-y-0.5 rounded border border-pick bg-raised px-2 py-1 text-xs"
    >
      <span className="basis-full text-soft">
        <strong className="number font-semibold text-ink">{set.name}</strong>: {counted(set.points.length, 'point')}. Click a
        point, Shift-drag a box, or Ctrl-drag a brush; Alt takes out.
      </span>
      <Button className={small} onClick={() => change('grow')} hint="Take in all neighbours">
        Grow
      </Button>
      <Button className={small} onClick={() => change('shrink')} hint="Leave out the rim">
        Shrink
      </Button>
      <Button className={small} onClick={() => change('invert')} hint="All others instead">
        Invert
      </Button>
      <Button className={small} onClick={() => writeSet([])}>
        Clear
      </Button>
      <Button
        className={small}
        pressed={range}
        disabled={!table}
        hint="Points whose value in the table lies in a range"
        onClick={() => setRange(!range)}
      >
        From values
      </Button>
      <span className="flex-1" />
      <Button look="framed" className={small} onClick={() => send(uiSet({ choosing: null }))}>
        Done
      </Button>
      {range && <FromValues />}
    </div>
  );
}

/** Takes the points whose value in a column of the table lies between two numbers. */
function FromValues() {
  const table = engine.geometry.get().table;
  const [column, setColumn] = useState(Math.max(0, (table?.columns.length ?? 1) - 1));
  const [from, setFrom] = useState('0');
  const [to, setTo] = useState('1');
  if (!table || table.on !== 'point') return <p className="basis-full text-soft">The table must list points.</p>;
  const field = (label: string, value: string, set: (v: string) => void) => (
    <input
      aria-label={label}
      value={value}
      inputMode="decimal"
      onChange={(e) => set(e.target.value)}
      onKeyDown={(e) => e.stopPropagation()}
      className="number h-6 w-16 rounded border border-line-strong bg-raised px-1.5 text-right outline-none focus:border-pick"
    />
  );
  const low = Number(from);
  const high = Number(to);
  return (
    <p className="flex basis-full items-center gap-1.5">
      <select
        aria-label="Column"
        value={column}
        onChange={(e) => setColumn(Number(e.target.value))}
        className="h-6 min-w-0 flex-1 rounded border border-line-strong bg-raised px-1"
      >
        {table.columns.map((c, i) => (
          <option key={i} value={i}>
            {c.label} {c.part}
          </option>
        ))}
      </select>
      {field('From', from, setFrom)} to {field('To', to, setTo)}
      <Button
        look="framed"
        className="!h-6 !px-1.5"
        disabled={!Number.isFinite(low) || !Number.isFinite(high)}
        onClick={() =>
          void engine
            .within(column, low, high)
            .then((points) => writeSet(points, `Choose ${plainNumber(low)} to ${plainNumber(high)}`))
        }
      >
        Take
      </Button>
    </p>
  );
}
