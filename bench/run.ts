import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { measure, type Result, type Trial } from './measure.ts';
import { curvesSuite, frameTwist } from './suites/curves.ts';
import { falloffsSuite } from './suites/falloffs.ts';
import { meshesSuite } from './suites/meshes.ts';
import { chainSuite } from './suites/chain.ts';
import { chainsSuite } from './suites/chains.ts';
import { commandLineSuite } from './suites/command-line.ts';
import { constraintsSuite } from './suites/constraints.ts';
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
  modules: modulesSuite,
  'command-line': commandLineSuite,
};
// `npm run bench -- nearest` runs one of them. Each has a process of its own: what one suite teaches the optimiser about
// a library's functions would be held against another.
const isAlone = process.argv.includes('--json') && process.argv.includes('--alone');
const asked = process.argv.slice(2).filter((name) => name in SUITES);
// `nodes` has parts, each with a process of its own.
const named = isAlone ? asked : Object.keys(SUITES).filter((name) => asked.some((a) => name === a || name.startsWith(`${a}-`)));
const names = named.length > 0 ? named : Object.keys(SUITES);
const jsonAt = process.argv.indexOf('--json');
const jsonFile = jsonAt >= 0 ? process.argv[jsonAt + 1] : undefined;

async function runAlone(name: string): Promise<Result[]> {
  const results: Result[] = [];
  for (const trial of SUITES[name]()) {
    const r = await measure(trial);
    results.push(r);
    const words = `${r.ratio.toFixed(2)}×`.padStart(8);
    const goal = `${r.better === 'lower' ? 'at most' : 'at least'} ${r.target}×`;
    console.log(`${r.ok ? 'ok  ' : 'MISS'} ${words}  ${r.name}  (${goal})`);
  }
  if (name === 'curves') {
    const { ours, theirs } = frameTwist();
    console.log(
      `     last of 1000 frames of a helix is wrong by ${ours.toExponential(1)}° (three's by ${theirs.toExponential(1)}°)`,
    );
  }
  return results;
}

function runElsewhere(name: string): Result[] {
  const folder = mkdtempSync(join(tmpdir(), 'bench-'));
  const file = join(folder, 'results.json');
  const { status } = spawnSync(process.execPath, [process.argv[1], name, '--alone', '--json', file], { stdio: 'inherit' });
  const results = status === 0 ? (JSON.parse(readFileSync(file, 'utf8')) as Result[]) : [];
  rmSync(folder, { recursive: true });
  return results;
}

const results = names.length > 1 ? names.flatMap(runElsewhere) : await runAlone(names[0]);
if (jsonFile) writeFileSync(jsonFile, `${JSON.stringify(results, null, 2)}\n`);
