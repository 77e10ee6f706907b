import type { NodeDefinition } from '../../graph/node/definition.ts';
import { aimAt } from './aim-at.ts';
import { atFrame } from './at-frame.ts';
import { betweenNode } from './between.ts';
import { driveObject } from './drive-object.ts';
import { followNode } from './follow.ts';
import { handOverNode } from './hand-over.ts';
import { limits } from './limits.ts';
import { readChannel } from './read-channel.ts';
import { rideSurface } from './ride-surface.ts';

export const CONSTRAINTS: readonly NodeDefinition[] = [
  followNode,
  handOverNode,
  betweenNode,
  aimAt,
  rideSurface,
  limits,
  readChannel,
  atFrame,
  driveObject,
];
