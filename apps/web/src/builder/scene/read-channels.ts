import {
  counted,
  channelName,
  channelsOf,
  makeKey,
  neededKeys,
  trackOf,
  type Animated,
  type ObjectRecord,
  type Project,
} from '@umberfish/core';
import { applyEdit, selectProject, store } from '../../state/store.ts';
import { remarked } from '../../state/ui-slice.ts';

/** Reads channels from a CSV onto the objects it names, as straight keys; one step of the history. */
export async function readChannelsFile(file: File): Promise<void> {
  try {
    const { readChannelsCsv } = await import('@umberfish/formats');
    const read = readChannelsCsv(await file.text());
    const project = selectProject(store.getState());
    if (!project) return;
    const whose = objectsFor(project.objects);
    const unknown = read.filter((r) => !whose(r)).map((r) => r.object);
    const mine = new Map(read.flatMap((r) => (whose(r) ?? []).map((o) => [o.id, r.channels] as const)));
    const next: Project = {
      ...project,
      objects: project.objects.map((o) => {
        const channels = mine.get(o.id);
        return channels ? withKeys(o, channels) : o;
      }),
    };
    applyEdit(`Read ${file.name}`, () => next);
    const found = read.length - unknown.length;
    const missing = unknown.length > 0 ? ` No object is called ${unknown.map((n) => `"${n}"`).join(', ')}.` : '';
    store.dispatch(
      remarked({
        text: `Read keys for ${counted(found, 'object')} from ${file.name}.${missing}`,
        kind: unknown.length === read.length ? 'wrong' : 'done',
      }),
    );
  } catch (error) {
    store.dispatch(remarked({ text: `${file.name}: ${(error as Error).message}`, kind: 'wrong' }));
  }
}

/** Objects that rows of a file are for: the one of their id and name; else those of the name, or of nearly that. */
function objectsFor(objects: readonly ObjectRecord[]) {
  const byId = new Map(objects.map((o) => [o.id, o]));
  const byName = new Map<string, ObjectRecord[]>();
  for (const o of objects)
    for (const name of new Set([o.name, o.name.trim()])) byName.set(name, [...(byName.get(name) ?? []), o]);
  return ({ object, id }: { object: string; id: string | undefined }): readonly ObjectRecord[] | undefined => {
    const known = id === undefined ? undefined : byId.get(id);
    return known?.name === object ? [known] : (byName.get(object) ?? byName.get(object.trim()));
  };
}

/** Channels are known by their id, or by the name of a dial. */
function withKeys(o: ObjectRecord, channels: ReadonlyMap<string, readonly (readonly [number, number])[]>): ObjectRecord {
  const animated: Record<string, Animated> = { ...o.animated };
  for (const [name, pairs] of channels) {
    const channel = channelsOf(o).find((c) => c === name || channelName(o, c) === name);
    if (!channel) continue;
    const keys = trackOf(pairs.map(([frame, value]) => makeKey(frame, value, { shape: 'straight' }))).keys;
    animated[channel] = { keys: trackOf(neededKeys(keys, 'straight')) };
  }
  return { ...o, animated };
}
