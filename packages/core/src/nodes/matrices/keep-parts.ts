import type { NodeDefinition } from '../../graph/node/definition.ts';
import { matrixValue } from '../../graph/node/values.ts';
import type { Matrix } from '../../maths/matrix.ts';
import { assemble, factorise } from '../../maths/factors.ts';
import { toggleSetting, yes } from '../ports.ts';
import { matrixOutput, matrixPort, singleMatrix } from './lanes.ts';

export type MatrixPart = 'translate' | 'rotate' | 'scale';
const WORDS: Record<MatrixPart, string> = { translate: 'move', rotate: 'turn', scale: 'size' };
const PARTS: readonly MatrixPart[] = ['translate', 'rotate', 'scale'];

/** A matrix with some parts taken from another; size takes the shear along. */
export function keepParts(m: Readonly<Matrix>, from: Readonly<Matrix>, parts: readonly MatrixPart[]): Matrix {
  const mine = factorise(m);
  const other = factorise(from);
  return assemble({
    translate: parts.includes('translate') ? other.translate : mine.translate,
    rotation: parts.includes('rotate') ? other.rotation : mine.rotation,
    scale: parts.includes('scale') ? other.scale : mine.scale,
    shear: parts.includes('scale') ? other.shear : mine.shear,
  });
}

const chosen = (s: Readonly<Record<string, unknown>>) => PARTS.filter((p) => s[p] === true);

export const keepPartsNode: NodeDefinition = {
  id: 'keep-parts',
  version: 1,
  title: 'Keep Parts',
  group: 'Matrices',
  summary: 'Takes the move, the turn or the size of one matrix, and the rest of another.',
  keywords: ['replace', 'only rotation', 'only position', 'filter', 'strip'],
  inputs: () => [
    matrixPort('matrix', 'matrix', 'The matrix that is kept but for the chosen parts.'),
    matrixPort('from', 'parts of', 'The matrix that the chosen parts come from.'),
  ],
  outputs: () => [matrixOutput('matrix', 'matrix', 'The matrix with those parts.')],
  settings: [
    toggleSetting('translate', 'Move', true, 'Takes where it puts the origin.'),
    toggleSetting('rotate', 'Turn', false, 'Takes its turn.'),
    toggleSetting('scale', 'Size', false, 'Takes its size and shear.'),
  ],
  sentence: (s, c) => {
    const parts = chosen(s).map((p) => WORDS[p]);
    return `${parts.length > 0 ? parts.join(' and ') : 'nothing'} of ${c.source?.('from') ?? 'another'}`;
  },
  light: true,
  evaluate(context) {
    const parts = PARTS.filter((p) => yes(context.settings, p));
    return {
      matrix: matrixValue(keepParts(singleMatrix(context, 'matrix'), singleMatrix(context, 'from'), parts)),
    };
  },
};
