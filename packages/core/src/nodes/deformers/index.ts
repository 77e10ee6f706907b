import type { NodeDefinition } from '../../graph/node/definition.ts';
import { bend } from './bend.ts';
import { bulge } from './bulge.ts';
import { cage } from './cage.ts';
import { easeToRest } from './ease-to-rest.ts';
import { loosenFaces } from './loosen-faces.ts';
import { ringWaves } from './ring-waves.ts';
import { smooth } from './smooth.ts';
import { subdivide } from './subdivide.ts';
import { swellByNoise } from './swell-by-noise.ts';
import { swellOut } from './swell-out.ts';
import { taper } from './taper.ts';
import { transform } from './transform.ts';
import { twist } from './twist.ts';

export const DEFORMERS: readonly NodeDefinition[] = [
  transform,
  swellOut,
  swellByNoise,
  bulge,
  ringWaves,
  bend,
  twist,
  taper,
  smooth,
  easeToRest,
  subdivide,
  loosenFaces,
  cage,
];
