import type { Matrix } from '../maths/matrix.ts';
import type { Project } from '../project/schema.ts';
import type { ObjectsById } from '../scene/objects.ts';
import type { DrivenBy } from '../scene/world.ts';

/** Where everything is at a frame: keys worked out, and what graphs put into objects. */
export interface Pose {
  readonly project: Project;
  readonly frame: number;
  readonly objects: ObjectsById;
  readonly driven: DrivenBy;
  world(object: string): Matrix;
}
