import { compileResponse, makeGrid, respond, RESPONSE_PRESETS } from '@umberfish/core';
import { evaluatorOf, graph, node, project } from '../../packages/core/src/testing/build.ts';
import { compare, sink, type Trial } from '../measure.ts';

/** Ten per-element nodes in a row on a million points, run as one, beside one loop that does the same sums. */
export function chainSuite(): Trial[] {
  const mesh = makeGrid([2, 2], [999, 999]);
  const p = mesh.positions;
  const n = p.length / 3;
  const curve = compileResponse(RESPONSE_PRESETS['Ease down']);
  const arithmetic = (id: string, operation: string, b: number) =>
    node(id, 'arithmetic', { settings: { operation }, inputs: { b } });
  const chain = (shift: number) =>
    graph(
      [
        node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
        node('values', 'point-values'),
        node('far', 'measure', { inputs: { b: [shift, 0.2, 0] } }),
        arithmetic('a1', 'multiply', 0.8),
        arithmetic('a2', 'subtract', 0.1),
        node('ease', 'response'),
        arithmetic('a3', 'multiply', 2),
        node('blend', 'blend', { inputs: { b: 0.5, amount: 0.25 } }),
        node('formula', 'formula', {
          settings: { formula: 'a * a + 0.5 * a', inputs: { names: [{ name: 'a', type: 'number' }] } },
        }),
        node('map', 'remap', { inputs: { fromHigh: 4, toHigh: 2 } }),
        arithmetic('a4', 'add', 0.3),
        arithmetic('a5', 'multiply', 0.7),
      ],
      [
        'in.mesh > values.mesh',
        'values.positions > far.a',
        'far.result > a1.a',
        'a1.result > a2.a',
        'a2.result > ease.value',
        'ease.result > a3.a',
        'a3.result > blend.a',
        'blend.result > formula.a',
        'formula.result > map.value',
        'map.result > a4.a',
        'a4.result > a5.a',
      ],
    );
  const evaluator = evaluatorOf(mesh, { arrays: {}, cacheInBytes: 1e8 });
  const wanted = [{ node: 'a5', port: 'result' }];
  let step = 0;
  const run = () => {
    const v = evaluator.evaluate({ project: project([chain((step++ % 97) * 0.01)]), frame: 1, wanted }).value(wanted[0]);
    if (v?.form !== 'column') throw new Error('The chain gave no column.');
    sink.value += v.data[0];
  };
  const loop = () => {
    const shift = (step % 97) * 0.01;
    const out = new Float32Array(n);
    for (let i = 0, j = 0; i < n; i++, j += 3) {
      const x = p[j] - shift,
        y = p[j + 1] - 0.2,
        z = p[j + 2];
      let v = respond(curve, Math.sqrt(x * x + y * y + z * z) * 0.8 - 0.1) * 2;
      v += (0.5 - v) * 0.25;
      v = v * v + 0.5 * v;
      v = Math.min(Math.max(v / 4, 0), 1) * 2;
      out[i] = (v + 0.3) * 0.7;
    }
    sink.value += out[0];
  };
  return [compare('a chain of ten nodes, 1,000,000 points ÷ one hand-written loop', run, loop, 'lower', 1.6, 15)];
}
