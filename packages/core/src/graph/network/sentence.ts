import { channelName } from '../../scene/channels.ts';
import { removedById } from '../../scene/removed.ts';
import { objectsById } from '../../scene/objects.ts';
import type { Project } from '../../project/schema.ts';
import type { SentenceContext } from '../node/definition.ts';
import { typedInput } from '../node/typed.ts';
import { nodeTitle, type ResolvedNode } from './resolve.ts';

/** What a card's sentence may ask: names of objects and channels, what is typed, and what comes in by wire. */
export function sentenceContext(
  project: Pick<Project, 'objects' | 'removed'>,
  node: Pick<ResolvedNode, 'record' | 'inputs' | 'wires'>,
  nodes: ReadonlyMap<string, ResolvedNode>,
): SentenceContext {
  const gone = removedById(project.removed);
  const find = (id: unknown) =>
    typeof id === 'string' ? (objectsById(project.objects).get(id) ?? gone.get(id)?.object) : undefined;
  const nameOf = (id: unknown) => {
    const name = find(id)?.name;
    return name !== undefined && gone.has(String(id)) ? `${name} (removed)` : name;
  };
  return {
    objectName: nameOf,
    channelName: (id, channel) => {
      const object = find(id);
      return object && channelName(object, channel);
    },
    typed: (port) => {
      const input = node.inputs.find((p) => p.id === port);
      return input && typedInput(input, node.record);
    },
    connected: (port) => node.wires.has(port),
    source: (port) => {
      const from = nodes.get(node.wires.get(port)?.from.node ?? '');
      if (!from) return undefined;
      // A locator is better called by what it reads.
      return from.record.title || (nameOf(from.settings.object) ?? nodeTitle(from));
    },
  };
}
