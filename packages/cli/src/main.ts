import { Command, CommanderError } from 'commander';
import { CATALOGUE, checkProject } from '@umberfish/core';
import { FormatError } from '@umberfish/formats';
import packageFile from '../package.json' with { type: 'json' };
import { bakeOfObjects, bakeOfResult } from './bake.ts';
import { info, infoData } from './info.ts';
import { contacts, type ContactOptions } from './contacts.ts';
import { CommandError } from './command-error.ts';
import { parseFrame } from './frames.ts';
import { modules, withDials } from './modules.ts';
import { openProject } from './open.ts';
import type { Output } from './output.ts';
import { proveFiles } from './prove.ts';
import { values, type ValuesOptions } from './values.ts';

const VERSION = packageFile.version;

/** Names are any text: what a terminal would take for an order of its own is shown as a mark. */
const plain = (text: string): string => text.replace(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/g, '\uFFFD');

const TERMINAL: Output = {
  out: (t) => void process.stdout.write(process.stdout.isTTY ? plain(t) : t),
  error: (t) => void process.stderr.write(plain(t)),
};

/** Says that nothing can be written to standard output, and ends. */
function cannotWrite(error: NodeJS.ErrnoException): never {
  const why =
    error.code === 'EPIPE' ? 'whoever read it has ended' : error.code === 'ENOSPC' ? 'there is no room left' : error.message;
  process.stderr.write(`Standard output cannot be written: ${why}.\n`);
  process.exit(1);
}

const SET_HELP = 'turns a dial of a use first, such as "Swell.height=0.3"; may be said more than once';
const collect = (value: string, before: readonly string[]): string[] => [...before, value];

interface Dials {
  set: readonly string[];
}

/** A project file with dials turned. @throws CommandError */
function withSet(path: string, { set }: Dials) {
  const opened = openProject(path);
  return { ...opened, project: withDials(opened.project, set) };
}

/** Runs a command line and gives its exit code: 0 when all went well, 1 when something is wrong. */
export async function main(args: readonly string[], output: Output = TERMINAL): Promise<number> {
  let code = 0;
  if (output === TERMINAL) process.stdout.once('error', cannotWrite);
  const program = new Command('umberfish')
    .description('Looks into Umberfish projects and bakes their results, without a browser.')
    .version(VERSION)
    .exitOverride()
    .configureOutput({ writeOut: (t) => output.out(t), writeErr: (t) => output.error(t) });
  program
    .command('info')
    .argument('<project>', 'project file')
    .option('--json', 'print it as JSON, with ids')
    .description('lists objects, meshes, graphs and results')
    .action((path: string, options: { json?: boolean }) => {
      const opened = openProject(path);
      output.out(options.json ? `${JSON.stringify(infoData(opened))}\n` : `${info(opened).join('\n')}\n`);
    });
  program
    .command('check')
    .argument('<project>', 'project file')
    .option('--frame <frame>', 'frame to evaluate at; default: the first of the range')
    .option('--json', 'print the problems as JSON')
    .description('validates a project and lists its problems; exit code 1 when there are errors')
    .action((path: string, options: { frame?: string; json?: boolean }) => {
      const opened = openProject(path);
      const findings = checkProject(CATALOGUE, opened, options.frame === undefined ? undefined : parseFrame(options.frame));
      const errors = findings.filter((f) => f.severity === 'error').length;
      if (errors > 0) code = 1;
      if (options.json) return void output.out(`${JSON.stringify({ errors, findings })}\n`);
      for (const f of findings) output.out(`${f.severity.padEnd(8)}${f.where}: ${f.message}\n`);
      if (findings.length === 0) output.out('No problems.\n');
      else output.out(`${errors} ${errors === 1 ? 'error' : 'errors'}, ${findings.length - errors} other.\n`);
    });
  program
    .command('prove')
    .argument('<files...>', 'module files, or projects whose modules are proven')
    .option('--junit <file>', 'write the results as JUnit XML')
    .option('--json', 'print the results as JSON')
    .description('tries the proofs of modules; exit code 1 when one fails that is not known to')
    .action(async (paths: string[], options: { junit?: string; json?: boolean }) => {
      if (!(await proveFiles(paths, options, output))) code = 1;
    });
  program
    .command('modules')
    .argument('<project>', 'project file')
    .description('lists the modules of a project: versions, ways, dials and their defaults')
    .action((path: string) => output.out(`${modules(openProject(path)).join('\n')}\n`));
  program
    .command('contacts')
    .argument('<project>', 'project file')
    .requiredOption('--node <node>', 'a card that keeps things out of a ground, by title or id')
    .option('--frames <frames>', 'such as 1-24; default: the range of the project')
    .option('--format <format>', 'csv or json', 'csv')
    .option('--set <dial=value>', SET_HELP, collect, [])
    .description('tells how deep contacts are, when they touch and how far they slide over the ground, at every frame')
    .action((path: string, options: ContactOptions & Dials) => output.out(contacts(withSet(path, options), options)));
  program
    .command('values')
    .argument('<project>', 'project file')
    .requiredOption('--node <node>', 'id or title of a node')
    .requiredOption('--port <port>', 'an output of it')
    .option('--frame <frame>', 'frame', '1')
    .option('--format <format>', 'csv or json', 'csv')
    .option('--set <dial>', SET_HELP, collect, [])
    .description('prints the values of an output')
    .action((path: string, options: ValuesOptions & Dials) => output.out(values(withSet(path, options), options)));
  program
    .command('bake')
    .argument('<project>', 'project file')
    .option('--result <name>', 'name of a result, written frame by frame')
    .option('--objects <names>', 'names of objects, parted by commas, whose motion is written')
    .requiredOption('--out <file>', 'file to write: .obj or .glb for a result, .glb or .csv for objects')
    .option('--frames <range>', 'frames such as 7, 1-24 or 1-100x2,110; default: the first of the range, for objects all of it')
    .option('--set <dial>', SET_HELP, collect, [])
    .option('--keep-going', 'go on at frames with errors')
    .description('writes a result frame by frame, or the motion of objects')
    .action(
      async (
        path: string,
        options: Dials & { result?: string; objects?: string; frames?: string; out: string; keepGoing?: boolean },
      ) => {
        const { result, objects } = options;
        if ((result === undefined) === (objects === undefined))
          throw new CommandError('Say what to bake: either --result or --objects.');
        const clean =
          result === undefined
            ? await bakeOfObjects(withSet(path, options), { ...options, objects: objects as string }, output)
            : await bakeOfResult(withSet(path, options), { ...options, result }, output);
        if (!clean) code = 1;
      },
    );
  try {
    await program.parseAsync([...args], { from: 'user' });
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode;
    const isOurs = error instanceof CommandError || error instanceof FormatError;
    const { message } = error as Error;
    output.error(isOurs ? `${message}\n` : `Something went wrong that should not have: ${message}\n`);
    return 1;
  }
  return code;
}
