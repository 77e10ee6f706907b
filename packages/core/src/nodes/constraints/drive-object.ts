import { withKernel } from '../../graph/light/matrix-kernel.ts';
import type { DrivenPart, FacetRef, InputPort, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { drivenValue } from '../../graph/node/values.ts';
import { SHOWN_PORT } from '../../graph/node/definition.ts';
import { objectsById } from '../../scene/objects.ts';
import { areFinite } from '../../maths/finite.ts';
import { carrierFrom, MATRIX_IS } from './carrier-kind.ts';
import { matrixPort, singleMatrix } from '../matrices/lanes.ts';
import { choice, choiceSetting, numberPort, singleVector, text, vectorPort } from '../ports.ts';

const IS = choiceSetting(
  'is',
  'It is',
  [...MATRIX_IS, ['channels', 'Numbers for channels']],
  'What the matrix is: what goes under the channels; a change seen from the world; the place of the object at rest channels; or no matrix, but channels driven outright.',
);
const drivesChannels = (s: Settings) => s.is === 'channels';

const PARTS = [
  { id: 'translate', label: 'move', unit: 'm', rest: 0, reach: [-5, 5] },
  { id: 'rotate', label: 'turn', unit: '°', rest: 0, reach: [-180, 180] },
  { id: 'scale', label: 'size', unit: undefined, rest: 1, reach: [0, 3] },
] as const;

const axesOf = (s: Settings, part: string): readonly string[] =>
  s[part] === 'all' ? ['x', 'y', 'z'] : ['x', 'y', 'z'].filter((a) => a === s[part]);

/** Channels it drives, each with the input and the element of it that it takes. */
function taken(s: Settings): { channel: string; port: string; element: number }[] {
  const own = text(s, 'own');
  return [
    ...PARTS.flatMap((p) => axesOf(s, p.id).map((axis, i) => ({ channel: `${p.id}.${axis}`, port: p.id, element: i }))),
    ...(own ? [{ channel: own, port: 'own', element: 0 }] : []),
  ];
}

const AXES = [
  ['none', 'Free'],
  ['all', 'x, y and z'],
  ['x', 'x'],
  ['y', 'y'],
  ['z', 'z'],
] as const;

function channelPorts(s: Settings): InputPort[] {
  const ports: InputPort[] = [];
  for (const p of PARTS) {
    const axes = axesOf(s, p.id);
    if (axes.length === 3) ports.push(vectorPort(p.id, p.label, p.unit, p.rest, p.reach, 'Goes into the channels.'));
    if (axes.length === 1)
      ports.push(numberPort(p.id, `${p.label} ${axes[0]}`, p.unit, p.rest, p.reach, 'Goes into the channel.'));
  }
  if (text(s, 'own')) ports.push(numberPort('own', 'its own channel', undefined, 0, [-10, 10], 'Goes into the channel.'));
  return ports;
}

const definition: NodeDefinition = {
  id: 'drive-object',
  version: 1,
  title: 'Drive Object',
  group: 'Constraints',
  summary: 'Puts a matrix under an object, so that its channels stay free; or numbers into chosen channels.',
  keywords: ['carrier', 'move', 'constrain', 'output'],
  inputs: (s) => (drivesChannels(s) ? channelPorts(s) : [matrixPort('matrix', 'matrix', 'What "It is" says.')]),
  outputs: () => [],
  settings: [
    { id: 'object', label: 'Object', type: 'object', takes: 'any', help: 'The object that is driven.' },
    IS,
    ...PARTS.map((p) => ({
      ...choiceSetting(
        p.id,
        p.label[0].toUpperCase() + p.label.slice(1),
        AXES,
        'Which of these channels are driven; the others stay free.',
        drivesChannels,
      ),
    })),
    {
      id: 'own',
      label: 'Its own channel',
      type: 'channel',
      of: 'object',
      default: '',
      shown: drivesChannels,
      help: 'One of the object’s own channels, driven too.',
    },
  ],
  sentence: (s, c) => `${choice(IS, s)} of ${c.objectName(s.object) ?? 'no object yet'}`,
  reads(s): FacetRef[] {
    const object = text(s, 'object');
    if (!object || drivesChannels(s) || s.is === 'carrier') return [];
    const parent: FacetRef = { object, facet: 'parent' };
    return s.is === 'target-world' ? [parent, { object, facet: 'restChannels' }] : [parent];
  },
  drives(s): DrivenPart[] {
    const object = text(s, 'object');
    if (!object) return [];
    return drivesChannels(s) ? taken(s).map(({ channel }) => ({ object, channel })) : [{ object }];
  },
  light: true,
  evaluate(context) {
    const { settings } = context;
    const object = context.object('object');
    if (drivesChannels(settings)) {
      const channels: Record<string, number> = {};
      for (const { channel, port, element } of taken(settings)) {
        if (object.channel(channel) === undefined) throw new NodeError({ code: 'channel-missing', channel, object: object.name });
        const value = singleVector(context, port)[element];
        if (Number.isFinite(value)) channels[channel] = value;
        else context.report({ code: 'not-finite', port, index: element, count: 1, severity: 'warning' });
      }
      return { [SHOWN_PORT]: drivenValue(new Map([[object.id, { channels }]])) };
    }
    const m = singleMatrix(context, 'matrix');
    if (!areFinite(m)) throw new NodeError({ code: 'not-finite', port: 'matrix', index: 0, count: 1 });
    const carrier = carrierFrom(text(settings, 'is'), m, object);
    return { [SHOWN_PORT]: drivenValue(new Map([[object.id, { carrier }]])) };
  },
};

export const driveObject = withKernel(definition, (settings, project) => {
  const object = text(settings, 'object');
  if (settings.is !== 'carrier' || !objectsById(project.objects).has(object)) return undefined;
  return {
    inputs: ['matrix'],
    isCarrier: true,
    values: (carrier) => ({ [SHOWN_PORT]: drivenValue(new Map([[object, { carrier }]])) }),
  };
});
