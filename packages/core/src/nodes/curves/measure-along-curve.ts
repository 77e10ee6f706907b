import { nearestOnCurves } from '../../curves/nearest-on.ts';
import { tracksOf } from '../../curves/track.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { valuesLike, type Column, type Single } from '../../graph/node/values.ts';
import { CURVES_IN, POSITIONS_IN } from '../ports.ts';

export const measureAlongCurve: NodeDefinition = {
  id: 'measure-along-curve',
  version: 1,
  title: 'Measure Along Curve',
  group: 'Curves',
  summary:
    'Tells for each position how far along curves the nearest place is, and how far away: Curve Point the other way round.',
  keywords: ['nearest', 'closest', 'fraction', 'distance', 'path', 'length'],
  inputs: () => [POSITIONS_IN, { ...CURVES_IN, help: 'The curves to search on.' }],
  outputs: () => [
    { id: 'distance', label: 'distance', kind: 'number', unit: 'm', help: 'How far the nearest place is.' },
    { id: 'fraction', label: 'fraction', kind: 'number', help: 'How far along its spline: 0 is the start, 1 the end.' },
    { id: 'length', label: 'length', kind: 'number', unit: 'm', help: 'How far along its spline, from its start.' },
    { id: 'position', label: 'position', kind: 'vector', unit: 'm', help: 'The nearest place.' },
    { id: 'tangent', label: 'tangent', kind: 'vector', help: 'Where the curve goes there, length 1.' },
    { id: 'width', label: 'width', kind: 'number', help: 'The width of the curve there.' },
    { id: 'spline', label: 'spline', kind: 'integer', help: 'On which of several splines; −1 for none.' },
  ],
  settings: [],
  sentence: () => 'on curves',
  evaluate(context) {
    const curves = context.curves('curves');
    const tracks = tracksOf(curves);
    if (tracks.length === 0) throw new NodeError({ code: 'target-empty', what: '"curves"' });
    const from = context.input('positions') as Single | Column;
    const count = from.form === 'column' ? from.count : 1;
    const places = context.lane('positions', 'vector', count);
    const distance = context.floats(count);
    const fraction = context.floats(count);
    const length = context.floats(count);
    const position = context.floats(count * 3);
    const tangent = context.floats(count * 3);
    const width = context.floats(count);
    const spline = context.integers(count);
    const numbers = splineNumbers(curves.shape.starts);
    const search = nearestOnCurves(curves);
    const { place } = search;
    // A spline without a length is a place: one can be near to it, but it goes nowhere.
    let isShort = false;
    for (let i = 0, o = 0; i < count; i++, o += 3) {
      if ((i & 1023) === 0) context.checkpoint();
      const found = search.find(places[o], places[o + 1], places[o + 2]);
      if (found >= 0 && tracks[found].length === 0) isShort = true;
      spline[i] = found < 0 ? -1 : numbers[found];
      // Where a place or the curve is not finite, nor is what comes out: the card tells.
      distance[i] = found < 0 ? NaN : search.distance;
      fraction[i] = found < 0 ? NaN : search.fraction;
      length[i] = found < 0 ? NaN : search.along;
      width[i] = found < 0 ? NaN : place.width;
      for (let axis = 0; axis < 3; axis++) {
        position[o + axis] = found < 0 ? places[o + axis] : place.position[axis];
        tangent[o + axis] = found < 0 ? NaN : place.tangent[axis];
      }
    }
    if (isShort) context.report({ code: 'curve-short', what: 'Measure Along Curve', severity: 'warning' });
    return {
      distance: valuesLike(from, 'number', distance),
      fraction: valuesLike(from, 'number', fraction),
      length: valuesLike(from, 'number', length),
      position: valuesLike(from, 'vector', position, 'position'),
      tangent: valuesLike(from, 'vector', tangent, 'direction'),
      width: valuesLike(from, 'number', width),
      spline: valuesLike(from, 'integer', spline),
    };
  },
};

/** The numbers of the splines that have points: those without have no track. */
const splineNumbers = (starts: Readonly<Int32Array>): number[] =>
  [...starts.subarray(0, -1).keys()].filter((s) => starts[s + 1] > starts[s]);
