import { channelName } from '../scene/channels.ts';
import type { Project } from '../project/schema.ts';
import { typedInput, type SentenceContext } from './definition.ts';
import { nodeTitle, type ResolvedNode } from './resolve.ts';

/** What a card's sentence may ask: names of objects and channels, what is typed, and what comes in by wire. */
export function sentenceContext(
  objects: Project['objects'],
  node: Pick<ResolvedNode, 'record' | 'inputs' | 'wires'>,
  nodes: ReadonlyMap<string, ResolvedNode>,
): SentenceContext {
  const find = (id: unknown) => (typeof id === 'string' ? objects.find((o) => o.id === id) : undefined);
  return {
    objectName: (id) => find(id)?.name,
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
      return from.record.title || (find(from.settings.object)?.name ?? nodeTitle(from));
    },
  };
}
