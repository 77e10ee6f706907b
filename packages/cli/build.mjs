import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'esbuild';

/**
 * Makes the command line one file, beside which nothing is read at a start. It is put in place whole: several may build at
 * once. @returns what is to be imported: that file, or, where it cannot be written, what would stand in it
 */
export async function buildCli(bundle) {
  const { outputFiles } = await build({
    entryPoints: [fileURLToPath(new URL('src/main.ts', import.meta.url))],
    write: false,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    minify: true,
    legalComments: 'eof',
    logLevel: 'error',
    // Packages of the older kind ask for node's own modules by `require`.
    banner: { js: "import { createRequire } from 'node:module';const require = createRequire('file:///');" },
  });
  const [{ contents }] = outputFiles;
  const aside = `${bundle}.${process.pid}`;
  try {
    mkdirSync(dirname(bundle), { recursive: true });
    writeFileSync(aside, contents);
    renameSync(aside, bundle);
    return pathToFileURL(bundle).href;
  } catch {
    rmSync(aside, { force: true });
    return `data:text/javascript;base64,${Buffer.from(contents).toString('base64')}`;
  }
}
