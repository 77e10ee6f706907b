import { spawn } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { needBuild, needChromium, needPackages, ROOT, run } from './needs.mjs';

// Everything that must hold: types, lint, unit tests, browser tests. Installs what is missing.
needPackages();
needChromium();

const results = `${ROOT}/test-results`;
rmSync(results, { recursive: true, force: true });
let passed = 0;
let failed = 0;

function step(name, work) {
  console.log(`\n— ${name}`);
  const code = work();
  if (code !== 0) failed++;
  else passed++;
  return code;
}

/** Runs an npm script and gives its exit code and what it printed. */
function quietly(script) {
  return new Promise((done) => {
    const child = spawn('npm', ['run', '--silent', script], { cwd: ROOT });
    let text = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (d) => (text += d));
    child.on('error', (e) => done({ code: 1, text: e.message }));
    child.on('close', (code) => done({ code: code ?? 1, text }));
  });
}

function told({ code, text }) {
  process.stdout.write(text);
  return code;
}

/** Adds up what a test runner wrote. */
function count(file, read) {
  try {
    const [good, bad] = read(JSON.parse(readFileSync(`${results}/${file}`, 'utf8')));
    passed += good;
    failed += bad;
  } catch {
    failed++;
  }
}

// Both use one core each and depend on nothing; what they print comes one after the other.
const [types, lint] = await Promise.all([quietly('typecheck'), quietly('lint')]);
step('Types', () => told(types));
step('Lint and formatting', () => told(lint));
step('Unit tests', () =>
  run('npx', ['vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${results}/unit.json`]),
);
count('unit.json', (r) => [r.numPassedTests, r.numFailedTests]);
step('Build', () => (needBuild(), 0));
step('Browser tests', () =>
  run('npx', ['playwright', 'test', '-c', 'e2e/playwright.config.ts'], {
    env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: `${results}/browser.json` },
  }),
);
count('browser.json', (r) => [r.stats.expected + r.stats.flaky, r.stats.unexpected]);

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
