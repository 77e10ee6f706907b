import { writeFileSync } from 'node:fs';
import type { Result } from './measure.ts';
import { chainSuite } from './suites/chain.ts';
import { formulaSuite } from './suites/formula.ts';
import { kernelSuite } from './suites/kernels.ts';
import { nearestSuite } from './suites/nearest.ts';
import { noiseSuite } from './suites/noise.ts';
import { swellSuite } from './suites/swell.ts';

// Our kernels beside public libraries and hand-written loops, in one run. Only ratios mean anything.
const results: Result[] = [
  ...swellSuite(),
  ...chainSuite(),
  ...formulaSuite(),
  ...noiseSuite(),
  ...kernelSuite(),
  ...nearestSuite(),
];
for (const r of results) {
  const words = `${r.ratio.toFixed(2)}×`.padStart(8);
  const goal = `${r.better === 'lower' ? 'at most' : 'at least'} ${r.target}×`;
  console.log(`${r.ok ? 'ok  ' : 'MISS'} ${words}  ${r.name}  (${goal})`);
}
const at = process.argv.indexOf('--json');
if (at >= 0) writeFileSync(process.argv[at + 1], `${JSON.stringify(results, null, 2)}\n`);
