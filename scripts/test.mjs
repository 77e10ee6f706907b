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

step('Types', () => run('npm', ['run', '--silent', 'typecheck']));
step('Lint and formatting', () => run('npm', ['run', '--silent', 'lint']));
step('Unit tests', () =>
  run('npx', [
    'vitest',
    'run',
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${results}/unit.json`,
  ]),
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
