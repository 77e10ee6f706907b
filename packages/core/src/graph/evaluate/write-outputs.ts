import type { AttributePlace } from '../../geometry/attributes.ts';
import { withAttribute, withPositions, type Mesh } from '../../geometry/mesh.ts';
import type { MeshWrite } from '../node/definition.ts';

/** A mesh with outputs of a per-element node written to it: positions, or attributes by name. */
export function writeOutputs(
  mesh: Mesh,
  on: AttributePlace,
  writes: readonly MeshWrite[],
  outputs: readonly Float32Array[],
): Mesh {
  let out = mesh;
  for (const { output, name, type, role } of writes) {
    const data = outputs[output];
    out = name === 'position' ? withPositions(out, data) : withAttribute(out, { name, on, type, role, data });
  }
  return out;
}
