import type { NodeDefinition } from '../../graph/node/definition.ts';
import { copiesToMesh } from './copies-to-mesh.ts';
import { driveGroup } from './drive-group.ts';
import { editCopies } from './edit-copies.ts';
import { placeCopies } from './place-copies.ts';
import { scatterPoints } from './scatter-points.ts';
import { skinOverPoints } from './skin-over-points.ts';

export const COPIES: readonly NodeDefinition[] = [
  placeCopies,
  editCopies,
  scatterPoints,
  copiesToMesh,
  skinOverPoints,
  driveGroup,
];
