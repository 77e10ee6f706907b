import type { NodeDefinition } from '../../graph/definition.ts';
import { clock } from './clock.ts';
import { integer } from './integer.ts';
import { makeGrid } from './make-grid.ts';
import { makeSphere } from './make-sphere.ts';
import { number } from './number.ts';
import { sceneLocator } from './scene-locator.ts';
import { sceneMesh } from './scene-mesh.ts';
import { toggle } from './toggle.ts';
import { vector } from './vector.ts';

export const BRING_IN: readonly NodeDefinition[] = [
  sceneMesh,
  sceneLocator,
  makeGrid,
  makeSphere,
  number,
  integer,
  vector,
  toggle,
  clock,
];
