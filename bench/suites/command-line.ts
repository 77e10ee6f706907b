import { spawnSync } from 'node:child_process';
import { compare, type Trial } from '../measure.ts';

/** How long the command line takes to begin: a short look into the demo beside a process that does nothing. */
export function commandLineSuite(): Trial[] {
  const run = (...args: string[]) => {
    const { status, error } = spawnSync(process.execPath, args, { stdio: 'ignore' });
    if (status !== 0) throw error ?? new Error(`${args.join(' ')} ended with ${status}.`);
  };
  const bin = 'packages/cli/bin/umberfish.mjs';
  // The first start makes the bundle.
  run(bin, '--version');
  return [
    compare(
      'umberfish info on the demo ÷ an empty process of node',
      () => run(bin, 'info', 'demo/lantern-quay.json'),
      () => run('-e', ''),
      'lower',
      8,
      10,
    ),
  ];
}
