import { main } from './main.ts';

/** Runs the command line in this process: its exit code, and what it says. */
export async function run(...args: string[]) {
  let out = '';
  let error = '';
  const code = await main(args, { out: (t) => void (out += t), error: (t) => void (error += t) });
  return { code, out, error };
}
