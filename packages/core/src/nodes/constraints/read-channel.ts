import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { numberValue } from '../../graph/node/values.ts';
import { text } from '../ports.ts';

export const readChannel: NodeDefinition = {
  id: 'read-channel',
  version: 1,
  title: 'Read Channel',
  group: 'Constraints',
  summary: 'Gives the number in one channel of an object: a move, a turn, a size, or one of its own.',
  keywords: ['dial', 'channel', 'slider', 'number'],
  inputs: () => [],
  outputs: () => [{ id: 'value', label: 'value', kind: 'number', help: 'Metres, degrees, a factor, or its own unit.' }],
  settings: [
    { id: 'object', label: 'Object', type: 'object', takes: 'any', help: 'The object to read.' },
    { id: 'channel', label: 'Channel', type: 'channel', of: 'object', default: 'translate.x', help: 'Which of its channels.' },
  ],
  sentence: (s, c) =>
    `${c.channelName?.(s.object, text(s, 'channel')) ?? text(s, 'channel')} of ${c.objectName(s.object) ?? 'no object yet'}`,
  reads: (s) => (text(s, 'object') ? [{ object: text(s, 'object'), facet: 'channel', channel: text(s, 'channel') }] : []),
  light: true,
  evaluate(context) {
    const object = context.object('object');
    const channel = text(context.settings, 'channel');
    if (!channel) throw new NodeError({ code: 'channel-unset' });
    const value = object.channel(channel);
    if (value === undefined) throw new NodeError({ code: 'channel-missing', channel, object: object.name });
    return { value: numberValue(value) };
  },
};
