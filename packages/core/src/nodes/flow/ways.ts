import type { InputPort, OutputPort, PortKind, Setting, Settings } from '../../graph/node/definition.ts';
import { KIND_TAGS } from '../../graph/node/kinds.ts';
import type { Way, Ways } from '../../project/fields.ts';

/** The setting that lists what crosses a wall. */
export const WAYS: Setting = {
  id: 'ways',
  label: 'Ways',
  type: 'ways',
  default: { ways: [] },
  help: 'What crosses the wall of the module, in the order in which it is shown.',
};

const isPort = (way: Way): boolean => way.kind in KIND_TAGS;

/** Ways that are ports: not those that stand for settings. */
export const portWays = (settings: Settings): readonly Way[] => ((settings.ways as Ways | null)?.ways ?? []).filter(isPort);

export const outputOf = ({ id, name, kind, unit, help }: Way): OutputPort => ({
  id,
  label: name,
  kind: kind as PortKind,
  help,
  ...(unit && { unit }),
});

export const inputOf = (way: Way): InputPort => ({
  ...outputOf(way),
  ...(way.default !== null && { default: way.default }),
  ...(way.range && { range: way.range }),
  ...(way.optional && { optional: true }),
});
