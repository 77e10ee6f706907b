import { expect, test } from 'vitest';
import { evaluateExpression, timeScope } from '../expression/evaluate.ts';
import { columnOf, graph, node, project } from '../testing/build.ts';
import { run, single } from '../testing/quay.ts';

test('a remainder has the sign of the divisor: in number fields, formulas and Arithmetic alike', () => {
  const scope = timeScope(1, 24, { first: 0, last: 96 });
  for (const [a, b, left] of [
    [-7, 3, 2],
    [7, -3, -2],
    [-7, -3, -1],
    [7, 3, 1],
    [-6, 3, 0],
    [7.5, 2, 1.5],
  ]) {
    expect(evaluateExpression(`${a} % ${b}`, scope)).toBeCloseTo(left, 12);
    const formula = node('f', 'formula', {
      settings: {
        formula: `left = ${a} % ${b}`,
        outputs: { names: [{ name: 'left', type: 'number' }] },
        inputs: { names: [] },
        on: 'point',
      },
    });
    const nodes = [
      node('ball', 'make-sphere'),
      formula,
      node('it', 'arithmetic', { settings: { operation: 'remainder' }, inputs: { a, b } }),
    ];
    const { values } = run(project([graph(nodes, ['ball.mesh > f.mesh'])]), ['f.left', 'it.result']);
    expect(columnOf(values[0]).data[5]).toBeCloseTo(left, 6);
    expect(single(values[1])[0]).toBeCloseTo(left, 12);
  }
});
