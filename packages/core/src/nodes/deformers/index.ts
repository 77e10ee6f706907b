import type { NodeDefinition } from '../../graph/definition.ts';
import { easeToRest } from './ease-to-rest.ts';
import { smooth } from './smooth.ts';
import { transform } from './transform.ts';
import { twist } from './twist.ts';

export const DEFORMERS: readonly NodeDefinition[] = [transform, twist, smooth, easeToRest];
