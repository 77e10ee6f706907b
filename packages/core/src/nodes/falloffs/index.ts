import type { NodeDefinition } from '../../graph/node/definition.ts';
import { attributeFalloff } from './attribute-falloff.ts';
import { curveFalloff } from './curve-falloff.ts';
import { flatFalloff } from './flat-falloff.ts';
import { mixFalloffs } from './mix-falloffs.ts';
import { noiseFalloff } from './noise-falloff.ts';
import { shapeFalloff } from './shape-falloff.ts';
import { shapeResponse } from './shape-response.ts';
import { surfaceFalloff } from './surface-falloff.ts';
import { weighPoints } from './weigh-points.ts';

export const FALLOFFS: readonly NodeDefinition[] = [
  shapeFalloff,
  surfaceFalloff,
  curveFalloff,
  attributeFalloff,
  noiseFalloff,
  flatFalloff,
  mixFalloffs,
  shapeResponse,
  weighPoints,
];
