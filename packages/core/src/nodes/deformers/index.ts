import type { NodeDefinition } from '../../graph/definition.ts';
import { transform } from './transform.ts';

export const DEFORMERS: readonly NodeDefinition[] = [transform];
