import {
  chainWays,
  counted,
  lostWith,
  otherVersions,
  usesOf,
  CATALOGUE,
  changeWords,
  compareWalls,
  isConstraintModule,
  moduleFile,
  moduleHash,
  moduleKey,
  nextVersion,
  published,
  putConstraintOn,
  putOn,
  takeIn,
  ofVersion,
  versionWords,
  wrongToPutOn,
  type ModuleFile,
  type ModuleRecord,
  type ObjectRecord,
  type Project,
  type PutOn,
  type ResultMove,
} from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { poseNow } from '../../engine/pose.ts';
import { knownLibrary } from '../../library/use-library.ts';
import { movesAway } from '../../library/proving.ts';
import { keepModule, moduleInText } from '../../storage/library.ts';
import { applyEdit, store } from '../../state/store.ts';
import { remarked, uiSet } from '../../state/ui-slice.ts';

const say = (text: string, kind: 'done' | 'wrong' = 'wrong') => store.dispatch(remarked({ text, kind }));
const project = (): Project | null => store.getState().project.project;

/** A module that can be put to use: of the project, or of the library. */
export interface Usable {
  readonly key: string;
  readonly name: string;
  readonly summary: string;
  readonly tags: readonly string[];
  /** The project with it, and the module there. */
  bring(): { project: Project; module: ModuleRecord } | undefined;
  /** Why it cannot be put on what is picked; undefined where it can. */
  wrong: string | undefined;
  /** It is for what was picked first, and what more it asks for is worth telling. */
  readonly asks: boolean;
}

/** As they were picked: what is carried comes first, then what carries it. */
const pickedObjects = () => {
  const { ui } = store.getState();
  return ui.objects.flatMap((id) => project()?.objects.find((o) => o.id === id) ?? []);
};

const isPosed = (o: ObjectRecord | undefined) => o?.type === 'chain' || o?.type === 'joint';

/** Every module of the project, and the newest of each in the library that the project does not hold. */
export function usableModules(): Usable[] {
  const now = project();
  if (!now) return [];
  const objects = pickedObjects();
  const usable = (module: ModuleRecord, bring: Usable['bring']): Usable => ({
    key: moduleKey(module),
    name: module.name,
    summary: module.summary,
    tags: module.tags,
    bring,
    wrong: wrongToPutOn(CATALOGUE, now, module, objects),
    asks: isConstraintModule(CATALOGUE, module) || (isPosed(objects[0]) && chainWays(CATALOGUE, module) !== undefined),
  });
  const mine = now.modules.map((m) => usable(m, () => ({ project: now, module: m })));
  const ids = new Set(now.modules.map((m) => m.id));
  const others = new Map<string, Usable>();
  for (const { file } of knownLibrary())
    if (!ids.has(file.module.id) && !others.has(file.module.id))
      others.set(
        file.module.id,
        usable(file.module, () => takeIn(now, file)),
      );
  return [...mine, ...others.values()];
}

/** Puts a module on the picked objects: they are shown as it shapes them, or carried by it, and what it asks for is made. */
export async function putOnPicked(usable: Usable): Promise<void> {
  const objects = pickedObjects();
  const now = project();
  const brought = usable.bring();
  if (usable.wrong || !brought) return void say(usable.wrong ?? 'The module is not there any more.');
  const { module } = brought;
  const assets = engine.getAssets();
  const meshOf = (o: ObjectRecord) => (o.type === 'mesh' && o.mesh !== null ? assets.get(o.mesh) : undefined);
  let made: PutOn | string;
  if (isConstraintModule(CATALOGUE, module)) {
    const pose = poseNow();
    if (!pose) return;
    const there = { ...pose, project: brought.project };
    made = await putConstraintOn(CATALOGUE, there, module, objects, engine, meshOf).catch((e: unknown) => (e as Error).message);
    // What was edited meanwhile is not put back.
    if (project() !== now) return putOnPicked(usable);
  } else made = putOn(CATALOGUE, brought.project, module, objects, meshOf);
  if (typeof made === 'string') return void say(made);
  const { project: next, graph, use, locators } = made;
  applyEdit(`Put on ${usable.name}`, () => next);
  store.dispatch(uiSet({ graph, nodes: [use], objects: [], port: null, element: null }));
  say(putOnWords(module, objects, locators), 'done');
}

/** What was done, and what to do next. */
function putOnWords(module: ModuleRecord, objects: readonly ObjectRecord[], locators: readonly ObjectRecord[]): string {
  const names = locators.map((l) => `"${l.name}"`).join(', ');
  const drag = names ? ` Drag ${names} in the stage.` : '';
  return isConstraintModule(CATALOGUE, module)
    ? `${module.name} carries "${objects[0].name}" now, which stays where it is.${drag}`
    : `${module.name} is on ${objects.map((o) => o.name).join(', ')}; its dials are on the left.${drag}`;
}

/** Module files among dropped ones: they come into the project and the library. @returns the others */
export async function takeModuleFiles(files: readonly File[]): Promise<File[]> {
  const others: File[] = [];
  for (const f of files) {
    if (!f.name.toLowerCase().endsWith('.json')) {
      others.push(f);
      continue;
    }
    try {
      const file = moduleInText(await f.text());
      if (file) await takeModule(file);
      else others.push(f);
    } catch (error) {
      say(`${f.name}: ${(error as Error).message}`);
    }
  }
  return others;
}

async function takeModule(file: ModuleFile): Promise<void> {
  const now = project();
  if (!now) return;
  const taken = takeIn(now, file);
  if (taken.project !== now) applyEdit(`Bring in ${file.module.name}`, () => taken.project);
  if (file.module.version > 0) await keepModule(file).catch(() => false);
  const words = taken.project === now ? 'was here already' : 'is here now: add it from the palette (Ctrl K)';
  say([`"${taken.module.name}" ${words}.`, ...taken.notes].join(' '), 'done');
}

/** What publishing a module would come to. */
export interface Publishing {
  readonly version: number;
  readonly words: string;
  readonly breaks: readonly string[];
  /** It is as it was published: there is nothing to publish. */
  readonly isSame: boolean;
  /** The number that the library has it under, where the project does not know: its page ended while it was published. */
  readonly known: number | null;
}

export function publishing(module: ModuleRecord): Publishing {
  const before = knownLibrary()
    .map((e) => e.file)
    .filter((f) => f.module.id === module.id)
    .sort((a, b) => b.module.version - a.module.version)[0];
  if (!before)
    return { version: nextVersion(0, false), words: 'It has not been published before.', breaks: [], isSame: false, known: null };
  const changes = compareWalls(CATALOGUE, before.module, module);
  const now = project();
  const isSame =
    now !== null && moduleHash(now, module) === moduleHash({ modules: [before.module, ...before.inside] }, before.module);
  return {
    version: nextVersion(before.module.version, changes.breaks.length > 0),
    words: changeWords(changes),
    breaks: changes.breaks,
    isSame,
    known: isSame && module.version !== before.module.version ? before.module.version : null,
  };
}

/** Writes a version into the library; the project's uses are of that version from now on. */
export async function publish(module: ModuleRecord, note: string): Promise<void> {
  const { version } = publishing(module);
  const now = project();
  if (!now) return;
  const next = published(moduleKey(module), version)(now);
  const record = next.modules.find((m) => m.id === module.id && m.version === version);
  if (!record) return;
  try {
    await keepModule(moduleFile(next, record, note, new Date().toISOString()));
  } catch (error) {
    return void say((error as Error).message);
  }
  applyEdit(`Publish ${module.name} ${versionWords(version)}`, published(moduleKey(module), version));
  say(`"${module.name}" ${versionWords(version)} is in the library.`, 'done');
}

/** Gives a module the number under which the library has it already. */
export const adopt = (module: ModuleRecord, version: number): void =>
  applyEdit(`${module.name} is ${versionWords(version)}`, published(moduleKey(module), version));

/** What the project would show otherwise at this frame if all uses were of a version from the library, and by how much. */
export async function whatChanges(from: ModuleRecord, file: ModuleFile): Promise<ResultMove[]> {
  const now = project();
  if (!now) return [];
  const taken = takeIn(now, file);
  const after = ofVersion(moduleKey(from), taken.module)(taken.project);
  return movesAway(now, after, engine.getAssets(), store.getState().ui.frame);
}

/** Lets uses be of a version from the library: one, or all that are of the same; tells what came of it. */
export function updateUses(from: ModuleRecord, file: ModuleFile, only?: { graph: string; node: string }): void {
  const now = project();
  if (!now) return;
  const taken = takeIn(now, file);
  const to = taken.module;
  const lost = lostWith(CATALOGUE, taken.project, from, to, only);
  const next = ofVersion(moduleKey(from), to, only)(taken.project);
  applyEdit(`Update ${from.name} to ${versionWords(to.version)}`, () => next);
  const stay = otherVersions(next, to).map((o) => `${counted(o.uses, 'use')} at ${versionWords(o.version)}`);
  const uses = only ? 1 : usesOf(now, moduleKey(from)).length;
  say(
    [
      `${counted(uses, 'use')} of ${versionWords(from.version)} ${uses === 1 ? 'is' : 'are'} of ${versionWords(to.version)} now.`,
      ...(stay.length > 0 ? [`${stay.join(' and ')} ${stay.length === 1 && stay[0].startsWith('1 ') ? 'stays' : 'stay'}.`] : []),
      ...(lost.length > 0 ? [`It counts for nothing now, until a version has it again: ${lost.join(' ')}`] : []),
      ...taken.notes,
    ].join(' '),
    lost.length > 0 ? 'wrong' : 'done',
  );
}

/** What an update would make count for nothing, in a sentence each. */
export function updateLoses(from: ModuleRecord, file: ModuleFile, only?: { graph: string; node: string }): string[] {
  const now = project();
  return now ? lostWith(CATALOGUE, now, from, file.module, only) : [];
}
