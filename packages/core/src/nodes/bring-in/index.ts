import type { NodeDefinition } from '../../graph/node/definition.ts';
import { clock } from './clock.ts';
import { integer } from './integer.ts';
import { makeGrid } from './make-grid.ts';
import { makeSphere } from './make-sphere.ts';
import { number } from './number.ts';
import { sceneLocator } from './scene-locator.ts';
import { makeLine } from './make-line.ts';
import { makeRing } from './make-ring.ts';
import { makeSpiral } from './make-spiral.ts';
import { makeBox } from './make-box.ts';
import { makeTube } from './make-tube.ts';
import { sceneCurve } from './scene-curve.ts';
import { sceneGroup } from './scene-group.ts';
import { sceneChainNode } from './scene-chain.ts';
import { sceneMesh } from './scene-mesh.ts';
import { toggle } from './toggle.ts';
import { vector } from './vector.ts';

export const BRING_IN: readonly NodeDefinition[] = [
  sceneMesh,
  sceneLocator,
  sceneCurve,
  sceneGroup,
  sceneChainNode,
  makeGrid,
  makeSphere,
  makeBox,
  makeTube,
  makeLine,
  makeRing,
  makeSpiral,
  number,
  integer,
  vector,
  toggle,
  clock,
];
