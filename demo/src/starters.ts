import type { ModuleFile } from '@umberfish/core';
import { carryingStarters } from './starter-constraints.ts';
import { posingStarters } from './starter-chains.ts';
import { placedStarters } from './starter-places.ts';
import { shapingStarters } from './starter-shapes.ts';

/** The modules that come with the application, their lids open: made from nodes like any other. */
export const makeStarters = (): ModuleFile[] => [
  ...placedStarters(),
  ...shapingStarters(),
  ...carryingStarters(),
  ...posingStarters(),
];
