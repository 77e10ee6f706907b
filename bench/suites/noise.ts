import { createNoise3D } from 'simplex-noise';
import { fractalNoise3, makeGrid, makeNoise, pointNormals } from '@umberfish/core';
import { breathing, evaluatorOf, project, SHOWN } from '../../packages/core/src/testing/build.ts';
import { compare, sink, type Trial } from '../measure.ts';

/** The breathing water, and noise by itself. */
export function noiseSuite(): Trial[] {
  const mesh = makeGrid([8, 8], [999, 999]);
  const { positions: p } = mesh;
  const n = pointNormals(mesh);
  const field = makeNoise(0);
  // A small budget, so that results are recycled as in long use, and as the loop's garbage is.
  const evaluator = evaluatorOf(mesh, { arrays: {}, cacheInBytes: 1e8 });
  let frame = 0;
  const graph = () => {
    const e = evaluator.evaluate({ project: project([breathing()]), frame: frame++, wanted: [SHOWN] });
    const v = e.value(SHOWN);
    if (v?.form !== 'geometry') throw new Error('The water graph gave no mesh.');
    sink.value += v.mesh.positions[1];
  };
  const loop = () => {
    const frequency = 0.8 + 0.4 * Math.sin(frame / 24 / 3);
    const out = new Float32Array(p.length);
    for (let i = 0; i < p.length; i += 3) {
      const h = fractalNoise3(field, p[i] * frequency, p[i + 1] * frequency, p[i + 2] * frequency, 4, 2, 0.5) * 0.2;
      out[i] = p[i] + n[i] * h;
      out[i + 1] = p[i + 1] + n[i + 1] * h;
      out[i + 2] = p[i + 2] + n[i + 2] * h;
    }
    sink.value += out[1];
  };
  const samples = 400_000;
  const theirs = createNoise3D();
  const place = (i: number) => (i % 1000) * 0.0137;
  const mine = () => {
    let sum = 0;
    for (let i = 0; i < samples; i++) sum += fractalNoise3(field, place(i), i * 1.7e-5, 0.3, 4, 2, 0.5);
    sink.value += sum;
  };
  const other = () => {
    let sum = 0;
    for (let i = 0; i < samples; i++) {
      let x = place(i),
        y = i * 1.7e-5,
        z = 0.3,
        height = 1,
        value = 0;
      for (let octave = 0; octave < 4; octave++) {
        value += theirs(x, y, z) * height;
        height *= 0.5;
        x *= 2;
        y *= 2;
        z *= 2;
      }
      sum += value;
    }
    sink.value += sum;
  };
  return [
    compare('noise graph, 1,000,000 points, another frame ÷ a loop round the same noise', graph, loop, 'lower', 1.3, 7),
    compare('our noise, 4 octaves ÷ simplex-noise, per sample', mine, other, 'lower', 1, 25),
  ];
}
