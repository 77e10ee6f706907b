import type { NodeDefinition } from '../../graph/definition.ts';
import { movePoints } from './move-points.ts';
import { pointValues } from './point-values.ts';

export const READ_WRITE: readonly NodeDefinition[] = [pointValues, movePoints];
