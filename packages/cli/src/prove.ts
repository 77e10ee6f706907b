import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  fileOf,
  isModuleText,
  ModuleFileError,
  prove,
  proveTwice,
  readModuleFile,
  versionWords,
  writeModuleFile,
  type ModuleFile,
  type ProofResult,
} from '@umberfish/core';
import { CommandError } from './command-error.ts';
import { readText, writeWhole } from './files.ts';
import { openProject } from './open.ts';
import type { Output } from './output.ts';

interface Proven {
  readonly file: string;
  readonly module: string;
  readonly version: string;
  readonly proofs: readonly ProofResult[];
}

/** Whether a proof lets a pipeline go on: it holds, or is known to fail. */
const passes = (p: ProofResult): boolean => p.ok || p.known !== '';

/** `umberfish prove`: tries the proofs of modules in files; true when none fails that may not. @throws CommandError */
export async function proveFiles(
  paths: readonly string[],
  options: { junit?: string; json?: boolean },
  output: Output,
): Promise<boolean> {
  const all: Proven[] = [];
  for (const path of paths)
    for (const file of modulesIn(path)) {
      const { name, version } = file.module;
      const proofs = await proveTwice(file, (f) => prove(f, processorTime), inNewProcess);
      all.push({ file: path, module: name, version: versionWords(version), proofs });
    }
  const failed = all.flatMap((m) => m.proofs.filter((p) => !passes(p)));
  if (options.json) output.out(`${JSON.stringify(all, null, 1)}\n`);
  else output.out(`${all.flatMap(linesOf).join('\n')}\n${summary(all, failed.length)}\n`);
  if (options.junit !== undefined) await writeWhole(options.junit, junit(all));
  return failed.length === 0;
}

/** Set in a process that proves for another, so that it asks for no third. */
const FOR_ANOTHER = 'UMBERFISH_PROVES_FOR_ANOTHER';

/** Proves a module in a process of its own; undefined where none can be had. */
function inNewProcess(file: ModuleFile): Promise<ProofResult[] | undefined> {
  if (process.env[FOR_ANOTHER] !== undefined) return Promise.resolve(undefined);
  const folder = mkdtempSync(join(tmpdir(), 'umberfish-'));
  try {
    const path = join(folder, 'module.json');
    writeFileSync(path, writeModuleFile(file));
    const start = fileURLToPath(new URL('../bin/umberfish.mjs', import.meta.url));
    const env = { ...process.env, [FOR_ANOTHER]: 'yes' };
    const { stdout } = spawnSync(process.execPath, [start, 'prove', '--json', path], { env, encoding: 'utf8' });
    const [proven] = JSON.parse(stdout) as Proven[];
    return Promise.resolve([...proven.proofs]);
  } catch {
    return Promise.resolve(undefined);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Time that this process was worked at, ms: what others do on the machine meanwhile does not count. */
function processorTime(): number {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
}

/** The modules of a file: of a module file, or of a project. */
function modulesIn(path: string): ModuleFile[] {
  const text = readText(path);
  if (!isModuleText(text)) {
    const { project } = openProject(path);
    return project.modules.map((m) => fileOf(project, m));
  }
  try {
    return [readModuleFile(text)];
  } catch (error) {
    if (error instanceof ModuleFileError) throw new CommandError(`${path}: ${error.message}`);
    throw error;
  }
}

function linesOf({ module, version, proofs }: Proven): string[] {
  const lines = proofs.map((p) => {
    const mark = p.ok ? 'ok    ' : p.known !== '' ? 'known ' : 'FAILS ';
    const where = [p.frame === undefined ? '' : `frame ${p.frame}`, p.ok || p.element === undefined ? '' : `point ${p.element}`];
    const at = where.filter(Boolean).join(', ');
    return `  ${mark}${p.name}: ${p.found}${at ? ` (${at})` : ''}${!p.ok && p.known !== '' ? `. Known: ${p.known}` : ''}`;
  });
  return [`${module} ${version}${proofs.length === 0 ? ': it proves nothing' : ''}`, ...lines];
}

function summary(all: readonly Proven[], failed: number): string {
  const count = all.reduce((n, m) => n + m.proofs.length, 0);
  return `${count} ${count === 1 ? 'proof' : 'proofs'} of ${all.length} ${all.length === 1 ? 'module' : 'modules'}, ${failed} ${failed === 1 ? 'fails' : 'fail'}.`;
}

const escaped = (text: string): string =>
  text
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')

    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, ' ');

/** Results as JUnit XML, which pipelines read. */
function junit(all: readonly Proven[]): string {
  const suites = all.map(({ module, version, file, proofs }) => {
    const failures = proofs.filter((p) => !passes(p)).length;
    const cases = proofs.map((p) => {
      const start = `    <testcase classname="${escaped(module)}" name="${escaped(p.name)}"`;
      if (p.ok) return `${start}/>`;
      const inside =
        p.known !== ''
          ? `<skipped message="${escaped(`${p.found}. Known: ${p.known}`)}"/>`
          : `<failure message="${escaped(p.found)}"/>`;
      return `${start}>\n      ${inside}\n    </testcase>`;
    });
    return [
      `  <testsuite name="${escaped(`${module} ${version}`)}" file="${escaped(file)}" tests="${proofs.length}" failures="${failures}">`,
      ...cases,
      '  </testsuite>',
    ].join('\n');
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites>\n${suites.join('\n')}\n</testsuites>\n`;
}
