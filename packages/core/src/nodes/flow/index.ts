import type { NodeDefinition } from '../../graph/node/definition.ts';
import { showMesh } from './show-mesh.ts';

export const FLOW: readonly NodeDefinition[] = [showMesh];
