import { computeNormals } from '../geometry/normals.ts';
import { trianglesOf } from '../geometry/triangles.ts';
import { curveOf } from '../project/kinds/index.ts';
import { objectsAt } from '../scene/channels.ts';
import { worldMatrix } from '../scene/world.ts';
import type { Dials, Trial } from './trial.ts';

/** What is seen of a module's example, in world space (metres). */
export interface ExampleLook {
  /** xyz × points. */
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  /** Three points each. */
  readonly triangles: Uint32Array;
  /** Where what it asks for stands: locators, by name. */
  readonly places: readonly { readonly name: string; readonly at: readonly [number, number, number] }[];
}

/** Evaluates the example of a module with its dials turned, at a frame. @throws ProofError with a sentence */
export function lookAt(trial: Trial, dials: Dials, frame: number): ExampleLook {
  const { positions, topology } = trial.again().at(dials, frame);
  const normals = new Float32Array(positions.length);
  const objects = objectsAt(trial.example.project, frame);
  return {
    positions: Float32Array.from(positions),
    normals: computeNormals(normals, positions, topology, topology.cornerPoints, 'angle'),
    triangles: Uint32Array.from(trianglesOf(topology).points),
    places: [...objects.values()].flatMap((o) => {
      if (o.type !== 'locator' || curveOf(o)) return [];
      const world = worldMatrix(objects, o.id);
      return [{ name: o.name, at: [world[12], world[13], world[14]] as const }];
    }),
  };
}
