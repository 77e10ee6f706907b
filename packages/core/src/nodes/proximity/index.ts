import type { NodeDefinition } from '../../graph/node/definition.ts';
import { nearest } from './nearest.ts';
import { rayHit } from './ray-hit.ts';
import { settleOnSurface } from './settle-on-surface.ts';
import { surfaceBind } from './surface-bind.ts';

export const PROXIMITY: readonly NodeDefinition[] = [nearest, rayHit, settleOnSurface, surfaceBind];
