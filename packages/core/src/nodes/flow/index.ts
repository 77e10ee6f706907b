import type { NodeDefinition } from '../../graph/definition.ts';
import { showMesh } from './show-mesh.ts';

export const FLOW: readonly NodeDefinition[] = [showMesh];
