import type { NodeDefinition } from '../../graph/node/definition.ts';
import { showMesh } from './show-mesh.ts';
import { wayIn } from './way-in.ts';
import { wayOut } from './way-out.ts';

export const FLOW: readonly NodeDefinition[] = [showMesh, wayIn, wayOut];
