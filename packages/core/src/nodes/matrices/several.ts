import type { InputPort, Setting, Settings } from '../../graph/node/definition.ts';
import { choiceSetting, numberPort } from '../ports.ts';

/** Nodes that take several matrices, named by letters, with one dial or a weight for each. */
const LETTERS = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'] as const;

export const DRIVERS: Setting = {
  id: 'drivers',
  label: 'Count',
  type: 'number',
  whole: true,
  default: 2,
  range: { min: 2, max: 8, hard: true },
  help: 'How many matrices it takes.',
};

export const driverIds = (s: Settings): readonly string[] =>
  LETTERS.slice(0, Math.min(8, Math.max(2, Math.round(Number(s.drivers) || 2))));

export const BLEND_BY = choiceSetting(
  'by',
  'By',
  [
    ['dial', 'One dial'],
    ['weights', 'A weight for each'],
  ],
  'One dial goes from each to the next; weights mix all of them.',
);

export const usesDial = (s: Settings): boolean => s.by !== 'weights';

/** The dial, or the weights, as inputs. */
export const dialOrWeights = (s: Settings, value = 0): InputPort[] =>
  usesDial(s)
    ? [
        numberPort(
          'dial',
          'dial',
          undefined,
          value,
          [0, driverIds(s).length - 1],
          '0 is the first, 1 the second, and so on; between them it blends.',
        ),
      ]
    : driverIds(s).map((id, i) =>
        numberPort(
          `weight-${id}`,
          `weight ${id}`,
          undefined,
          i === 0 ? 1 : 0,
          [0, 1],
          'How much of it; all are taken as shares of their sum.',
        ),
      );
