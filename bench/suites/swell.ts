import { compileResponse, pointNormals, respond, RESPONSE_PRESETS } from '@umberfish/core';
import { evaluatorOf, project, SHOWN, swell } from '../../packages/core/src/testing/build.ts';
import { makeGrid } from '@umberfish/core';
import { compare, sink, type Trial } from '../measure.ts';

/** The swell graph on a million points after the locator moved, beside one loop that does the same sum. */
export function swellSuite(): Trial[] {
  const mesh = makeGrid([1.2, 1.2], [999, 999]);
  const { positions: p } = mesh;
  const n = pointNormals(mesh);
  const curve = compileResponse(RESPONSE_PRESETS['Ease down']);
  // A small budget, so that results are recycled as in long use, and as the loop's garbage is.
  const evaluators = {
    fused: evaluatorOf(mesh, { arrays: {}, cacheInBytes: 1e8 }),
    unfused: evaluatorOf(mesh, { arrays: {}, fuse: false, cacheInBytes: 1e8 }),
  };
  let step = 0;
  const run = (evaluator: keyof typeof evaluators) => () => {
    const at: [number, number, number] = [(step++ % 97) * 0.005, 0.1, 0];
    const e = evaluators[evaluator].evaluate({ project: project([swell()], at), frame: 1, wanted: [SHOWN] });
    const v = e.value(SHOWN);
    if (v?.form !== 'geometry') throw new Error('The swell graph gave no mesh.');
    sink.value += v.mesh.positions[0];
  };
  const loop = () => {
    const lx = (step % 97) * 0.005,
      ly = 0.1,
      lz = 0;
    const out = new Float32Array(p.length);
    for (let i = 0; i < p.length; i += 3) {
      const x = p[i] - lx,
        y = p[i + 1] - ly,
        z = p[i + 2] - lz;
      const h = respond(curve, Math.sqrt(x * x + y * y + z * z) / 0.85) * 0.3;
      out[i] = p[i] + n[i] * h;
      out[i + 1] = p[i + 1] + n[i + 1] * h;
      out[i + 2] = p[i + 2] + n[i + 2] * h;
    }
    sink.value += out[0];
  };
  return [
    compare('swell graph, 1,000,000 points, locator moved ÷ one hand-written loop', run('fused'), loop, 'lower', 3),
    compare('the same without fusing ÷ one hand-written loop', run('unfused'), loop, 'lower', 6),
  ];
}
