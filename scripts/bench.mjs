import { mkdirSync } from 'node:fs';
import { needPackages, ROOT, run } from './needs.mjs';

// Benchmarks run as the application does: bundled. A loader that translates file by file wraps every inner function
// to keep its name, which slows down small ones.
needPackages();
// Only now is it there for sure.
const { build } = await import('vite');
const outDir = `${ROOT}/node_modules/.cache/bench`;
mkdirSync(outDir, { recursive: true });
await build({
  root: ROOT,
  configFile: false,
  logLevel: 'error',
  ssr: { noExternal: [/^@umberfish\//] },
  build: { ssr: 'bench/run.ts', outDir, emptyOutDir: true, target: 'node20', minify: false },
});
// In a process of its own, which has nothing else in memory. Libraries beside ours load three in ways it warns of.
process.exit(run(process.execPath, ['--no-deprecation', `${outDir}/run.js`, ...process.argv.slice(2)]));
