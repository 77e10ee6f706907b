import { counted, tracksOf, curvesOf, type ObjectOf, changeCurve, setCurveRest, changeObjectOf } from '@umberfish/core';
import { applyEdit } from '../../state/store.ts';
import { Button } from '../../ui/button.tsx';
import { plainNumber } from '../../ui/format.ts';
import { FieldRow } from './field-row.tsx';

/** Splines of a curve object, and its rest. */
export function CurveSettings({ object }: { object: ObjectOf<'curve'> }) {
  const { curve, restCurve } = object;
  const lengths = tracksOf(curvesOf(curve)).map((t) => t.length);
  const points = curve.splines.reduce((n, s) => n + s.points.length, 0);
  return (
    <section aria-label="Curve" className="mt-2 flex flex-col gap-1.5 border-t border-line pt-2">
      <h3 className="font-serif text-sm font-semibold">Curve</h3>
      <p className="text-xs leading-snug text-soft">
        {points === 0
          ? 'Nothing drawn yet: choose Draw points below the stage and click in it.'
          : `${counted(points, 'point')}, ${plainNumber(Number(lengths.reduce((a, b) => a + b, 0).toFixed(3)))} m long. Points, handles, roll and width are edited in the stage.`}
      </p>
      <FieldRow
        label="Rest"
        help="The curve as it was when what follows it fitted: Lay Along Curve applies only the change from it."
      >
        <span className="text-xs text-soft">{restCurve ? 'remembered' : 'the curve as it is'}</span>
      </FieldRow>
      <Button
        look="framed"
        className="!h-6"
        hint="Remembers the curve, and where it stands, as its rest"
        onClick={() => applyEdit('Set curve rest', setCurveRest(object))}
      >
        Set rest here
      </Button>
      {restCurve && (
        <Button
          look="framed"
          className="!h-6"
          hint="The curve takes the shape it was remembered in"
          onClick={() =>
            applyEdit('Back to rest', changeObjectOf('curve', object.id, { curve: restCurve, channels: object.rest }))
          }
        >
          Go back to rest
        </Button>
      )}
      <Button
        look="framed"
        className="!h-6"
        hint="Begins another spline in the same object; points are drawn into the last one"
        onClick={() =>
          applyEdit(
            'Add spline',
            changeCurve(object.id, (c) => ({
              splines: [...c.splines, { type: 'bezier', closed: false, points: [] }],
            })),
          )
        }
      >
        Begin another spline
      </Button>
    </section>
  );
}
