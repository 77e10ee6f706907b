#!/usr/bin/env node
import { existsSync, readdirSync, statSync } from 'node:fs';
import { fileURLToPath, pathToFileURL } from 'node:url';

// Runs one bundle, made by the first start and again whenever a source is newer: compiling at each start takes ten times
// as long as the work itself.
const here = fileURLToPath(new URL('..', import.meta.url));
const bundle = `${here}dist/umberfish.mjs`;
const sources = ['core', 'formats', 'bake', 'cli'].map((name) => `${here}../${name}/src`);

function isNewer(folder, than) {
  return readdirSync(folder, { withFileTypes: true }).some((entry) => {
    const path = `${folder}/${entry.name}`;
    return entry.isDirectory() ? isNewer(path, than) : statSync(path).mtimeMs > than;
  });
}

const made = existsSync(bundle) ? statSync(bundle).mtimeMs : 0;
const isStale = sources.some((folder) => isNewer(folder, made));
const start = isStale ? await (await import('../build.mjs')).buildCli(bundle) : pathToFileURL(bundle).href;

// A reader such as `head` may close the pipe before everything is written.
process.stdout.on('error', (error) => {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
});
const { main } = await import(start);
process.exitCode = await main(process.argv.slice(2));
