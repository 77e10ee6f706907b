import { withoutMark } from '../words.ts';
import { z } from 'zod';
import { hashText } from '../hash.ts';
import { wrongInside } from '../project/file.ts';
import { moduleKey, usedKey } from '../project/modules.ts';
import { moduleSchema, type ModuleRecord, type Project } from '../project/schema.ts';
import { wrongShape } from '../wrong-shape.ts';
import { MOST_DEEP } from './definitions.ts';

export const MODULE_FORMAT = 'umberfish-module';
export const MODULE_FILE_VERSION = 1;
/** The most characters of a module file that are read. */
const MOST_CHARACTERS = 50_000_000;

const fileSchema = z
  .object({
    format: z.literal(MODULE_FORMAT),
    version: z.literal(MODULE_FILE_VERSION),
    /** What was said when it was published, and when (ISO 8601). */
    note: z.string().max(5000),
    date: z.string().max(40),
    module: moduleSchema,
    /** The modules that stand in it, at any depth. */
    inside: z.array(moduleSchema).max(2000).readonly(),
  })
  .readonly();

/** A module by itself, with all that stands in it. */
export type ModuleFile = z.infer<typeof fileSchema>;

/** Why a module file cannot be taken: one sentence. */
export class ModuleFileError extends Error {}

/** The modules that stand in one, at any depth, each once. */
export function modulesInside(project: Pick<Project, 'modules'>, module: ModuleRecord): ModuleRecord[] {
  const known = new Map(project.modules.map((m) => [moduleKey(m), m]));
  const found = new Map<string, ModuleRecord>();
  const visit = (m: ModuleRecord): void => {
    for (const node of m.graph.nodes) {
      const used = known.get(usedKey(node) ?? '');
      if (!used || used === module || found.has(moduleKey(used))) continue;
      found.set(moduleKey(used), used);
      visit(used);
    }
  };
  visit(module);
  return [...found.values()];
}

/** A module as a file of its own. */
export const moduleFile = (project: Pick<Project, 'modules'>, module: ModuleRecord, note: string, date: string): ModuleFile => ({
  format: MODULE_FORMAT,
  version: MODULE_FILE_VERSION,
  note,
  date,
  module,
  inside: modulesInside(project, module),
});

export const writeModuleFile = (file: ModuleFile): string => `${JSON.stringify(file, null, 1)}\n`;

/** Whether a text is meant to be a module file. */
export const isModuleText = (text: string): boolean => /"format"\s*:\s*"umberfish-module"/.test(text.slice(0, 400));

/** Reads a module file. @throws ModuleFileError with one sentence; nothing is half read */
export function readModuleFile(text: string): ModuleFile {
  if (text.length > MOST_CHARACTERS) throw new ModuleFileError(`The file is larger than ${MOST_CHARACTERS / 1e6} MB.`);
  let json: unknown;
  try {
    json = JSON.parse(withoutMark(text));
  } catch (error) {
    // Nested too deep for the reader is an error of another kind.
    throw new ModuleFileError(`The file is not JSON: ${(error as Error).message}. Was it cut short?`);
  }
  const { format, version } = (typeof json === 'object' && json !== null ? json : {}) as Record<string, unknown>;
  if (format !== MODULE_FORMAT) throw new ModuleFileError('The file is JSON, but not an Umberfish module.');
  if (typeof version === 'number' && version > MODULE_FILE_VERSION)
    throw new ModuleFileError(
      `The module was written by a newer Umberfish (format ${version}; this one reads up to ${MODULE_FILE_VERSION}). Update, then open it again.`,
    );
  const result = fileSchema.safeParse(json);
  if (!result.success) throw new ModuleFileError(wrongShape(result.error, 'module'));
  const file = result.data;
  const all = [file.module, ...file.inside];
  const wrong = all.map((m) => wrongInside(m.graph)).find((w) => w !== undefined);
  if (wrong) throw new ModuleFileError(`module: ${wrong}`);
  const known = new Map(all.map((m) => [moduleKey(m), m]));
  const usedBy = (m: ModuleRecord) => m.graph.nodes.flatMap((n) => known.get(usedKey(n) ?? '') ?? []);
  const circle = circleIn(all, usedBy);
  if (circle) throw new ModuleFileError(`A module in the file contains itself: ${circle.join(' in ')}.`);
  const deep = deepest(all, usedBy);
  if (deep > MOST_DEEP)
    throw new ModuleFileError(
      `Modules in the file stand in one another ${deep} deep; ${MOST_DEEP} is the most. Unpack some of them where it was made.`,
    );
  return file;
}

type UsedBy = (m: ModuleRecord) => readonly ModuleRecord[];

/** Names from a module to itself again, where one contains itself. */
function circleIn(all: readonly ModuleRecord[], usedBy: UsedBy): string[] | undefined {
  const done = new Set<ModuleRecord>();
  for (const start of all) {
    // A way down, each with what is still to be looked at in it; no recursion, so a long one ends in words too.
    const way = [{ m: start, rest: [...usedBy(start)] }];
    while (way.length > 0) {
      const top = way[way.length - 1];
      const next = top.rest.pop();
      if (!next) {
        done.add(top.m);
        way.pop();
      } else if (way.some(({ m }) => m === next)) return [...way.map(({ m }) => m.name), next.name];
      else if (!done.has(next)) way.push({ m: next, rest: [...usedBy(next)] });
    }
  }
  return undefined;
}

/** How many modules stand in one another at most, where none contains itself. */
function deepest(all: readonly ModuleRecord[], usedBy: UsedBy): number {
  // Each round finds those that are one deeper; what contains nothing is 1 deep.
  let level = new Set(all);
  let deep = 0;
  for (; level.size > 0; deep++) level = new Set([...level].flatMap(usedBy));
  return deep;
}

/** What a module does, as a hash: equal for equal cards, wires, ways and words, wherever they stand and whatever it is called. */
export function moduleHash(project: Pick<Project, 'modules'>, module: ModuleRecord): string {
  const known = new Map(project.modules.map((m) => [moduleKey(m), m]));
  const made = new Map<ModuleRecord, string>();
  const hashOf = (m: ModuleRecord, deep: number): string => {
    const before = made.get(m);
    if (before !== undefined) return before;
    const nodes = m.graph.nodes.map((n) => {
      const used = known.get(usedKey(n) ?? '');
      const type = used && deep < MOST_DEEP ? hashOf(used, deep + 1) : n.type;
      return [n.id, type, n.version, n.title, n.inputs, n.settings, n.skip, n.own ?? null];
    });
    const wires = m.graph.wires.map((w) => `${w.from.node}.${w.from.port}>${w.to.node}.${w.to.port}`).sort();
    const hash = hashText(JSON.stringify([m.summary, m.tags, m.example, m.proofs, nodes, wires]));
    made.set(m, hash);
    return hash;
  };
  return hashOf(module, 0);
}
