import { appendPoint, withSpline } from '../curves/edit-record.ts';
import type { Vec3 } from '../maths/vector.ts';
import { type CurveRecord, type SplineRecord } from '../project/fields.ts';
import { makeObject, type ObjectRecord, type ObjectOf, curveOf } from '../project/kinds/index.ts';
import { type Project } from '../project/schema.ts';
import { changeObjectOf, freeName, newId, type Edit } from './document.ts';

/** A curve object with nothing drawn yet. */
export const newCurve = (project: Project): ObjectRecord =>
  makeObject(newId('curve'), freeName(project, 'Curve'), 'curve', {
    curve: { splines: [{ type: 'bezier', closed: false, points: [] }] },
  });

/** Changes what is drawn of an object. */
export const changeCurve =
  (object: string, change: (curve: CurveRecord) => CurveRecord): Edit =>
  (p) => {
    const curve = curveOf(p.objects.find((o) => o.id === object));
    return curve ? changeObjectOf('curve', object, { curve: change(curve) })(p) : p;
  };

export const changeSpline = (object: string, spline: number, change: (s: SplineRecord) => SplineRecord): Edit =>
  changeCurve(object, (c) => withSpline(c, spline, change));

/** Adds a point to the end of a spline, in the object's own space. */
export const drawPoint = (object: string, spline: number, at: Vec3): Edit =>
  changeSpline(object, spline, (s) => appendPoint(s, at));

/** Remembers the curve, and where it stands, as its rest. */
export const setCurveRest = (object: ObjectOf<'curve'>): Edit =>
  changeObjectOf('curve', object.id, { rest: object.channels, restCurve: object.curve });
