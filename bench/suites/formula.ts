import { compile as compileTheirs } from 'mathjs';
import { makeGrid, type GraphRecord } from '@umberfish/core';
import { evaluatorOf, graph, node, project } from '../../packages/core/src/testing/build.ts';
import { compare, sink, type Trial } from '../measure.ts';

const FREQUENT = 'position.y + 0.3 * sin(2 * position.x + seconds) * exp(-position.z * position.z)';
const PLAIN = 'position.x * position.x + 0.5 * position.y * position.z - 0.25 * (position.z + k)';

/** A number `k` comes in besides the mesh, as a dial would. */
const formulaGraph = (text: string, k = 0): GraphRecord =>
  graph(
    [
      node('in', 'scene-mesh', { settings: { object: 'fish', space: 'own' } }),
      node('formula', 'formula', {
        settings: { formula: text, inputs: { names: [{ name: 'k', type: 'number' }] } },
        inputs: { k },
      }),
    ],
    ['in.mesh > formula.mesh'],
  );
const RESULT = { node: 'formula', port: 'result' };

/** Formulas on a million points beside hand-written loops and beside mathjs, compiled and called per point. */
export function formulaSuite(): Trial[] {
  const mesh = makeGrid([8, 8], [999, 999]);
  const p = mesh.positions;
  const n = p.length / 3;
  for (let i = 0; i < n; i++) (p as Float32Array)[i * 3 + 1] = Math.sin(i * 0.37);
  const evaluator = evaluatorOf(mesh, { arrays: {}, cacheInBytes: 1e8 });
  const wavesProject = project([formulaGraph(FREQUENT)]);
  let frame = 0;
  let step = 0;
  const waves = () => {
    const e = evaluator.evaluate({ project: wavesProject, frame: frame++, wanted: [RESULT] });
    const v = e.value(RESULT);
    if (v?.form !== 'column') throw new Error('The formula gave no column.');
    sink.value += v.data[1];
  };
  const wavesByHand = () => {
    const seconds = frame / 24;
    const out = new Float32Array(n);
    for (let i = 0, j = 0; i < n; i++, j += 3)
      out[i] = p[j + 1] + 0.3 * Math.sin(2 * p[j] + seconds) * Math.exp(-p[j + 2] * p[j + 2]);
    sink.value += out[1];
  };
  const sums = () => {
    const e = evaluator.evaluate({
      project: project([formulaGraph(PLAIN, step++ % 97)]),
      frame: 1,
      wanted: [RESULT],
    });
    const v = e.value(RESULT);
    if (v?.form !== 'column') throw new Error('The formula gave no column.');
    sink.value += v.data[1];
  };
  const sumsByHand = () => {
    const k = step % 97;
    const out = new Float32Array(n);
    for (let i = 0, j = 0; i < n; i++, j += 3) out[i] = p[j] * p[j] + 0.5 * p[j + 1] * p[j + 2] - 0.25 * (p[j + 2] + k);
    sink.value += out[1];
  };
  const few = 100_000;
  const theirs = compileTheirs('y + 0.3 * sin(2 * x + seconds) * exp(-z * z)');
  const perPoint = () => {
    const scope = { x: 0, y: 0, z: 0, seconds: 1 };
    let sum = 0;
    for (let i = 0, j = 0; i < few; i++, j += 3) {
      scope.x = p[j];
      scope.y = p[j + 1];
      scope.z = p[j + 2];
      sum += theirs.evaluate(scope) as number;
    }
    sink.value += sum;
  };
  const small = makeGrid([8, 8], [999, 99]);
  const smallEvaluator = evaluatorOf(small, { arrays: {}, cacheInBytes: 1e7 });
  const wavesOnFew = () => {
    const e = smallEvaluator.evaluate({ project: wavesProject, frame: frame++, wanted: [RESULT] });
    const v = e.value(RESULT);
    sink.value += v?.form === 'column' ? v.data[1] : NaN;
  };
  return [
    compare(`formula "${FREQUENT}", 1,000,000 points ÷ one hand-written loop`, waves, wavesByHand, 'lower', 1.25, 40),
    compare(`pure arithmetic "${PLAIN}" ÷ one hand-written loop`, sums, sumsByHand, 'lower', 2.2, 40),
    compare(
      'the first formula, 100,000 points, beside mathjs compiled and called per point',
      wavesOnFew,
      perPoint,
      'higher',
      25,
      12,
    ),
  ];
}
