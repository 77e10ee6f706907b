import {
  insertPoint,
  removePoint,
  smoothed,
  SPLINE_TYPES,
  type SplineRecord,
  type SplineType,
  changeSpline,
  curveOf,
} from '@umberfish/core';
import { applyEdit, selectProject, useSend, useStore } from '../../state/store.ts';
import { uiSet } from '../../state/ui-slice.ts';
import { Button } from '../../ui/button.tsx';
import { Choice } from '../../ui/choice.tsx';
import { NumberField } from '../../ui/number-field.tsx';

const TYPE_WORDS: Record<SplineType, string> = { poly: 'Straight', bezier: 'Bézier', 'b-spline': 'B-spline' };

/** What can be done with the picked curve; it stands at the foot of the stage while one is picked. */
export function CurveBar() {
  const project = useStore(selectProject);
  const objects = useStore((s) => s.ui.objects);
  const pick = useStore((s) => s.ui.curvePoint);
  const drawing = useStore((s) => s.ui.drawing);
  const snap = useStore((s) => s.ui.snap);
  const send = useSend();
  const object = objects.length === 1 ? project?.objects.find((o) => o.id === objects[0]) : undefined;
  const at = pick?.spline ?? 0;
  const spline = curveOf(object)?.splines[at];
  if (!object || !spline) return null;
  const change = (label: string, edit: (s: SplineRecord) => SplineRecord, gesture: string | null = null) =>
    applyEdit(label, changeSpline(object.id, at, edit), gesture);
  const point = pick ? spline.points[pick.point] : undefined;
  const setPoint = (part: 'roll' | 'width', value: number, gesture: string | null) =>
    change(
      part === 'roll' ? 'Roll' : 'Width',
      (s) => ({
        ...s,
        points: s.points.map((p, i) => (i === pick?.point ? { ...p, [part]: value } : p)),
      }),
      gesture && `${gesture} ${object.id}`,
    );
  return (
    <div
      data-foot-bar
      data-curve-bar={spline.points.length}
      className="absolute inset-x-2 bottom-2 flex flex-wrap items-center gap-x-1 gap-y-1 rounded border border-line bg-raised/95 px-1.5 py-1 text-xs shadow-sm"
    >
      <Button
        pressed={drawing}
        onClick={() => send(uiSet({ drawing: !drawing, curvePoint: null }))}
        hint="Click in the stage to add points at the end; Escape ends it"
      >
        {drawing ? 'Done drawing' : 'Draw points'}
      </Button>
      <Button
        disabled={!pick}
        hint="Puts a point half way to the next; the curve stays as it is"
        onClick={() => {
          if (!pick) return;
          change('Insert point', (s) => insertPoint(s, pick.point));
          send(uiSet({ curvePoint: { ...pick, point: pick.point + 1, part: 'at' } }));
        }}
      >
        Insert
      </Button>
      <Button
        disabled={!pick}
        hint="Removes the picked point (Delete)"
        onClick={() => {
          if (!pick) return;
          change('Remove point', (s) => removePoint(s, pick.point));
          send(uiSet({ curvePoint: null }));
        }}
      >
        Remove
      </Button>
      <Button
        hint={pick ? 'Makes the handles of the picked point smooth' : 'Makes all handles smooth'}
        disabled={spline.type !== 'bezier'}
        onClick={() => change('Smooth handles', (s) => smoothed(s, pick ? (i) => i === pick.point : undefined))}
      >
        Smooth
      </Button>
      <Button
        pressed={spline.closed}
        hint="Runs back to the first point"
        onClick={() => change(spline.closed ? 'Open curve' : 'Close curve', (s) => ({ ...s, closed: !s.closed }))}
      >
        Closed
      </Button>
      <div className="w-24">
        <Choice
          label="Curve runs"
          value={spline.type}
          options={SPLINE_TYPES.map((value) => ({ value, label: TYPE_WORDS[value] }))}
          onChange={(type) => change('Curve type', (s) => ({ ...s, type: type as SplineType }))}
        />
      </div>
      <div className="w-26">
        <Choice
          label="Snap points"
          value={snap}
          options={[
            { value: 'none', label: 'No snapping' },
            { value: 'grid', label: 'To 10 cm' },
            { value: 'surface', label: 'To surfaces' },
          ]}
          onChange={(v) => send(uiSet({ snap: v as 'none' | 'grid' | 'surface' }))}
        />
      </div>
      {point && (
        <>
          <div className="w-24">
            <NumberField
              label="Point roll"
              prefix="roll"
              unit="°"
              value={point.roll}
              range={{ min: -360, max: 360 }}
              onChange={(v, g) => typeof v === 'number' && setPoint('roll', v, g)}
            />
          </div>
          <div className="w-24">
            <NumberField
              label="Point width"
              prefix="width"
              unit="×"
              value={point.width}
              range={{ min: 0, max: 3 }}
              onChange={(v, g) => typeof v === 'number' && setPoint('width', v, g)}
            />
          </div>
        </>
      )}
      {!point && !drawing && <span className="text-soft">Pick a point to move it, or its handles.</span>}
    </div>
  );
}
