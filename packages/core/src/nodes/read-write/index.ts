import type { NodeDefinition } from '../../graph/node/definition.ts';
import { carryAttribute } from './carry-attribute.ts';
import { colourBy } from './colour-by.ts';
import { dropAttribute } from './drop-attribute.ts';
import { formula } from './formula.ts';
import { handOffsets } from './hand-offsets.ts';
import { merge } from './merge.ts';
import { movePoints } from './move-points.ts';
import { paintValues } from './paint-values.ts';
import { pick } from './pick.ts';
import { pointValues } from './point-values.ts';
import { readAttribute } from './read-attribute.ts';
import { rememberRest } from './remember-rest.ts';
import { restChange } from './rest-change.ts';
import { smoothValues } from './smooth-values.ts';
import { summarise } from './summarise.ts';
import { writeAttribute } from './write-attribute.ts';

export const READ_WRITE: readonly NodeDefinition[] = [
  pointValues,
  movePoints,
  handOffsets,
  paintValues,
  readAttribute,
  writeAttribute,
  dropAttribute,
  carryAttribute,
  colourBy,
  rememberRest,
  restChange,
  formula,
  summarise,
  pick,
  smoothValues,
  merge,
];
