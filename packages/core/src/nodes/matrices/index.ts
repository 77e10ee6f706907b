import type { NodeDefinition } from '../../graph/node/definition.ts';
import { blendMatricesNode } from './blend-matrices.ts';
import { buildMatrix } from './build-matrix.ts';
import { changeSpace } from './change-space.ts';
import { invertMatrix } from './invert-matrix.ts';
import { keepPartsNode } from './keep-parts.ts';
import { multiplyMatrices } from './multiply-matrices.ts';
import { offsetBetween } from './offset-between.ts';
import { pivotPoint } from './pivot-point.ts';
import { splitMatrix } from './split-matrix.ts';

export const MATRICES: readonly NodeDefinition[] = [
  buildMatrix,
  splitMatrix,
  multiplyMatrices,
  invertMatrix,
  offsetBetween,
  blendMatricesNode,
  keepPartsNode,
  changeSpace,
  pivotPoint,
];
