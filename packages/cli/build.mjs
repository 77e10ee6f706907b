import { renameSync, rmSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

/** Makes the command line one file, beside which nothing is read at a start. It is put in place whole: several may build at once. */
export async function buildCli(bundle) {
  const aside = `${bundle}.${process.pid}`;
  try {
    await build({
      entryPoints: [fileURLToPath(new URL('src/main.ts', import.meta.url))],
      outfile: aside,
      bundle: true,
      platform: 'node',
      target: 'node20',
      format: 'esm',
      minify: true,
      legalComments: 'eof',
      logLevel: 'error',
      // Packages of the older kind ask for node's modules by `require`.
      banner: { js: "import { createRequire } from 'node:module';const require = createRequire(import.meta.url);" },
    });
    renameSync(aside, bundle);
  } finally {
    rmSync(aside, { force: true });
  }
}
