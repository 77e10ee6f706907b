import type { NodeDefinition } from '../../graph/node/definition.ts';
import { blend } from './blend.ts';
import { choose } from './choose.ts';
import { compare } from './compare.ts';
import { random } from './random.ts';
import { wave } from './wave.ts';
import { arithmetic } from './arithmetic.ts';
import { buildVector } from './build-vector.ts';
import { direction } from './direction.ts';
import { gradient } from './gradient.ts';
import { measure } from './measure.ts';
import { noise } from './noise.ts';
import { remap } from './remap.ts';
import { response } from './response.ts';
import { splitVector } from './split-vector.ts';
import { turnAngles } from './turn-angles.ts';

export const MATHS: readonly NodeDefinition[] = [
  arithmetic,
  measure,
  direction,
  splitVector,
  buildVector,
  remap,
  response,
  gradient,
  noise,
  wave,
  random,
  blend,
  compare,
  choose,
  turnAngles,
];
