import {
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
  const project = selectProject(store.getState());
  if (!project) return;
  try {
    const { readChannelsCsv } = await import('@umberfish/formats');
    const read = readChannelsCsv(await file.text());
    const unknown = read
      .filter((r) => !project.objects.some((o) => o.name === r.object))
      .map((r) => r.object);
    const next: Project = {
      ...project,
      objects: project.objects.map((o) => {
        const mine = read.find((r) => r.object === o.name);
        return mine ? withKeys(o, mine.channels) : o;
      }),
    };
    applyEdit(`Read ${file.name}`, () => next);
    const found = read.length - unknown.length;
    const missing =
      unknown.length > 0 ? ` No object is called ${unknown.map((n) => `"${n}"`).join(', ')}.` : '';
    store.dispatch(remarked({ text: `Read keys for ${found === 1 ? 'one object' : `${found} objects`} from ${file.name}.${missing}`, kind: unknown.length === read.length ? 'wrong' : 'done' })); // prettier-ignore
  } catch (error) {
    store.dispatch(remarked({ text: `${file.name}: ${(error as Error).message}`, kind: 'wrong' }));
  }
}

/** Channels are known by their id, or by the name of a dial. */
function withKeys(
  o: ObjectRecord,
  channels: ReadonlyMap<string, readonly (readonly [number, number])[]>,
): ObjectRecord {
  const animated: Record<string, Animated> = { ...o.animated };
  for (const [name, pairs] of channels) {
    const channel = channelsOf(o).find((c) => c === name || channelName(o, c) === name);
    if (!channel) continue;
    const keys = trackOf(pairs.map(([frame, value]) => makeKey(frame, value, { shape: 'straight' }))).keys;
    animated[channel] = { keys: trackOf(neededKeys(keys, 'straight')) };
  }
  return { ...o, animated };
}
