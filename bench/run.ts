import { writeFileSync } from 'node:fs';
import type { Result } from './measure.ts';
import { curvesSuite, frameTwist } from './suites/curves.ts';
import { falloffsSuite } from './suites/falloffs.ts';
import { meshesSuite } from './suites/meshes.ts';
import { chainSuite } from './suites/chain.ts';
import { constraintsSuite } from './suites/constraints.ts';
import { formulaSuite } from './suites/formula.ts';
import { kernelSuite } from './suites/kernels.ts';
import { nearestSuite } from './suites/nearest.ts';
import { noiseSuite } from './suites/noise.ts';
import { swellSuite } from './suites/swell.ts';

// Our kernels beside public libraries and hand-written loops, in one run. Only ratios mean anything.
const SUITES: Readonly<Record<string, () => Result[]>> = {
  swell: swellSuite,
  chain: chainSuite,
  formula: formulaSuite,
  noise: noiseSuite,
  kernels: kernelSuite,
  constraints: constraintsSuite,
  nearest: nearestSuite,
  curves: curvesSuite,
  falloffs: falloffsSuite,
  meshes: meshesSuite,
};
// `npm run bench -- nearest` runs one of them; without a name all run in one process, as in the worker.
const named = process.argv.slice(2).filter((name) => name in SUITES);
const results = (named.length > 0 ? named : Object.keys(SUITES)).flatMap((name) => SUITES[name]());
for (const r of results) {
  const words = `${r.ratio.toFixed(2)}×`.padStart(8);
  const goal = `${r.better === 'lower' ? 'at most' : 'at least'} ${r.target}×`;
  console.log(`${r.ok ? 'ok  ' : 'MISS'} ${words}  ${r.name}  (${goal})`);
}
if (named.length === 0 || named.includes('curves')) {
  const { ours, theirs } = frameTwist();
  console.log(
    `     last of 1000 frames of a helix is wrong by ${ours.toExponential(1)}° (three's by ${theirs.toExponential(1)}°)`,
  );
}
const at = process.argv.indexOf('--json');
if (at >= 0) writeFileSync(process.argv[at + 1], `${JSON.stringify(results, null, 2)}\n`);
