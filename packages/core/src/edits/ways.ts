import type { InputPort, OutputPort, Setting } from '../graph/node/definition.ts';
import { typedInput } from '../graph/node/typed.ts';
import type { ResolvedNode } from '../graph/network/resolve.ts';
import type { Way } from '../project/fields.ts';
import { newId } from './document.ts';

/*
 * Ports and settings of nodes as ways through the wall of a module: name, kind, unit, default and range are taken over.
 */

const PLAIN: Omit<Way, 'id' | 'name' | 'kind'> = {
  unit: '',
  help: '',
  default: null,
  range: null,
  optional: false,
  group: '',
  control: 'wire',
  shown: null,
  start: 'origin',
  sets: [],
};

/** A new way; its fields in the order of the file. */
const makeWay = (name: string, kind: string): Way => ({ id: newId('way'), name, kind, ...PLAIN });

/** What an input would be called as a dial: a letter says little without its card. */
export const nameOfInput = (port: InputPort, { record, definition }: ResolvedNode): string =>
  port.label.length > 2 ? port.label : record.title || `${(definition?.title ?? '').toLowerCase()} ${port.label}`;

/** An input as a way in; what is typed there is the default. @param arriving the kind of what comes in by a wire, if any */
export function wayOfInput(name: string, port: InputPort, node: ResolvedNode, arriving: string | undefined): Way {
  const typed = typedInput(port, node.record) ?? null;
  // What takes several kinds is said by what arrives.
  const kind = port.kind === 'geometry' && arriving ? arriving : port.kind;
  return {
    ...makeWay(name, kind),
    unit: port.unit ?? '',
    help: port.help,
    default: typed,
    range: port.range ? { min: port.range.min, max: port.range.max, hard: port.range.hard ?? false } : null,
    optional: port.optional ?? false,
    control:
      kind === 'toggle' ? 'switch' : kind === 'number' || kind === 'integer' ? 'slider' : typed === null ? 'wire' : 'number',
  };
}

/** An output as a way out. */
export const wayOfOutput = (name: string, port: OutputPort, kind: string | undefined): Way => ({
  ...makeWay(name, kind ?? port.kind),
  unit: port.unit ?? '',
  help: port.help,
});

/** A setting as a way in. @param names gives a name that is free */
export const wayOfSetting = (names: (wanted: string) => string, setting: Setting, node: ResolvedNode): Way => {
  const title = node.record.title || node.definition?.title || '';
  const isObject = setting.type === 'object';
  return {
    ...makeWay(names(isObject ? title : `${title} ${setting.label.toLowerCase()}`), 'setting'),
    help: setting.help,
    control: isObject
      ? setting.takes === 'locator'
        ? 'place'
        : 'object'
      : setting.type === 'response' || setting.type === 'gradient' || setting.type === 'choice' || setting.type === 'number'
        ? setting.type
        : setting.type === 'toggle'
          ? 'switch'
          : 'wire',
    sets: [{ node: node.record.id, setting: setting.id }],
  };
};
