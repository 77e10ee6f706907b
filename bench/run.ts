import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { measure, resultOf, type Result, type Trial } from './measure.ts';
import { curvesSuite, frameTwist } from './suites/curves.ts';
import { falloffsSuite } from './suites/falloffs.ts';
import { meshesSuite } from './suites/meshes.ts';
import { chainSuite } from './suites/chain.ts';
import { chainsSuite } from './suites/chains.ts';
import { commandLineSuite } from './suites/command-line.ts';
import { constraintsSuite } from './suites/constraints.ts';
import { readersSuite } from './suites/readers.ts';
import { growthSuite } from './suites/growth.ts';
import { formulaSuite } from './suites/formula.ts';
import { kernelSuite } from './suites/kernels.ts';
import { modulesSuite } from './suites/modules.ts';
import { nearestSuite } from './suites/nearest.ts';
import { nodesSuite } from './suites/nodes.ts';
import { boundTrials } from './suites/bound.ts';
import { pointDialTrials } from './suites/point-dials.ts';
import { rigDialTrials } from './suites/rig-dials.ts';
import { noiseSuite } from './suites/noise.ts';
import { swellSuite } from './suites/swell.ts';

// Our kernels beside public libraries and hand-written loops, in one run. Only ratios mean anything.
const SUITES: Readonly<Record<string, () => Trial[]>> = {
  swell: swellSuite,
  chain: chainSuite,
  chains: chainsSuite,
  formula: formulaSuite,
  noise: noiseSuite,
  nodes: nodesSuite,
  'nodes-points': pointDialTrials,
  'nodes-bound': boundTrials,
  'nodes-rig': rigDialTrials,
  kernels: kernelSuite,
  constraints: constraintsSuite,
  nearest: nearestSuite,
  curves: curvesSuite,
  falloffs: falloffsSuite,
  meshes: meshesSuite,
  growth: growthSuite,
  readers: readersSuite,
  modules: modulesSuite,
  'command-line': commandLineSuite,
};
// `npm run bench -- nearest` runs one of them; `nodes` has parts. Each has a process of its own: what one suite teaches the
// optimiser about a library's functions would be held against another.
const [, script, ...words] = process.argv;
const after = (flag: string) => (words.includes(flag) ? words[words.indexOf(flag) + 1] : undefined);

/** How often a line that missed its target is taken again, each time in a new process. */
const TRIES = 3;

const goalOf = ({ better, target }: Result) => `${better === 'lower' ? 'at most' : 'at least'} ${target}×`;

/** The lines of a suite, measured in this process; of all or of those named. */
async function runHere(suite: string, only: readonly string[] | undefined): Promise<Result[]> {
  const results: Result[] = [];
  for (const trial of SUITES[suite]()) {
    if (only && !only.includes(trial.name)) continue;
    const r = await measure(trial);
    results.push(r);
    console.log(`${r.ok ? 'ok  ' : 'over'} ${`${r.ratio.toFixed(2)}×`.padStart(8)}  ${r.name}  (${goalOf(r)})`);
  }
  if (suite === 'curves' && !only) {
    const { ours, theirs } = frameTwist();
    console.log(
      `     last of 1000 frames of a helix is wrong by ${ours.toExponential(1)}° (three's by ${theirs.toExponential(1)}°)`,
    );
  }
  return results;
}

function runElsewhere(suite: string, only?: readonly string[]): Result[] {
  const folder = mkdtempSync(join(tmpdir(), 'bench-'));
  const file = join(folder, 'results.json');
  const args = [...process.execArgv, script, '--here', suite, '--json', file];
  const { status } = spawnSync(process.execPath, only ? [...args, '--only', JSON.stringify(only)] : args, { stdio: 'inherit' });
  if (status !== 0) throw new Error(`The suite ${suite} broke off.`);
  const results = JSON.parse(readFileSync(file, 'utf8')) as Result[];
  rmSync(folder, { recursive: true });
  return results;
}

/**
 * The lines of a suite. How fast a piece of work is differs from process to process, by what the optimiser makes of it and
 * where its arrays come to lie, and nothing but chance makes it slower than it can be: a line over its target is measured
 * again in a new process, and the best of each of its two sides counts.
 */
function runSuite(suite: string): Result[] {
  let results = runElsewhere(suite);
  for (let tries = 1; tries < TRIES; tries++) {
    const over = results.filter((r) => !r.ok).map((r) => r.name);
    if (over.length === 0) break;
    console.log('again, in a new process:');
    const again = new Map(runElsewhere(suite, over).map((r) => [r.name, r]));
    results = results.map((r) => {
      const other = again.get(r.name);
      if (!other) return r;
      const [ours, reference] = [Math.min(r.ours, other.ours), Math.min(r.reference, other.reference)];
      return resultOf(r, ours, reference, tries + 1);
    });
  }
  return results;
}

const here = after('--here');
const only = after('--only');
const asked = words.flatMap((w) => Object.keys(SUITES).filter((name) => name === w || name.startsWith(`${w}-`)));
const results = here
  ? await runHere(here, only === undefined ? undefined : (JSON.parse(only) as string[]))
  : (asked.length > 0 ? [...new Set(asked)] : Object.keys(SUITES)).flatMap(runSuite);
const jsonFile = after('--json');
if (jsonFile) writeFileSync(jsonFile, `${JSON.stringify(results, null, 2)}\n`);
if (!here) {
  const missed = results.filter((r) => !r.ok);
  const again = results.filter((r) => r.ok && r.tries > 1).length;
  const good = `${results.length - missed.length} of ${results.length} lines within their targets`;
  console.log(again > 0 ? `${good}, ${again} of them not at the first try` : good);
  for (const r of missed) console.log(`MISS ${`${r.ratio.toFixed(2)}×`.padStart(8)}  ${r.name}  (${goalOf(r)})`);
  if (missed.length > 0) process.exitCode = 1;
}
