#!/usr/bin/env node
import { register } from 'tsx/esm/api';

register();
// A reader such as `head` may close the pipe before everything is written.
process.stdout.on('error', (error) => {
  if (error.code === 'EPIPE') process.exit(0);
  throw error;
});
const { main } = await import('../src/main.ts');
process.exitCode = await main(process.argv.slice(2));
