import { makeCatalogue } from '../graph/node/catalogue.ts';
import type { NodeDefinition } from '../graph/node/definition.ts';
import { BRING_IN } from './bring-in/index.ts';
import { CHAINS } from './chains/index.ts';
import { COPIES } from './copies/index.ts';
import { CURVES } from './curves/index.ts';
import { FALLOFFS } from './falloffs/index.ts';
import { PROXIMITY } from './proximity/index.ts';
import { DEFORMERS } from './deformers/index.ts';
import { FLOW } from './flow/index.ts';
import { CONSTRAINTS } from './constraints/index.ts';
import { MATRICES } from './matrices/index.ts';
import { MATHS } from './maths/index.ts';
import { READ_WRITE } from './read-write/index.ts';

/** Every type of node, in the order of the palette. */
export const NODES: readonly NodeDefinition[] = [
  ...BRING_IN,
  ...READ_WRITE,
  ...MATHS,
  ...FALLOFFS,
  ...PROXIMITY,
  ...CURVES,
  ...DEFORMERS,
  ...COPIES,
  ...CHAINS,
  ...MATRICES,
  ...CONSTRAINTS,
  ...FLOW,
];

/** The catalogue of them. */
export const CATALOGUE = makeCatalogue(NODES);
