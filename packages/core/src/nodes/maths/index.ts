import type { NodeDefinition } from '../../graph/definition.ts';
import { arithmetic } from './arithmetic.ts';
import { buildVector } from './build-vector.ts';
import { direction } from './direction.ts';
import { measure } from './measure.ts';
import { noise } from './noise.ts';
import { remap } from './remap.ts';
import { response } from './response.ts';
import { splitVector } from './split-vector.ts';

export const MATHS: readonly NodeDefinition[] = [
  arithmetic,
  measure,
  direction,
  splitVector,
  buildVector,
  remap,
  response,
  noise,
];
