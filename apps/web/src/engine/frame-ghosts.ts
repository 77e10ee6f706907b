import { worldsAt, type Evaluator, type Project } from '@umberfish/core';
import type { MeshSender } from './mesh-sender.ts';
import type { PictureGhost, PictureMesh, PictureRequest } from './protocol.ts';

/** What some objects are at other frames; meshes that graphs make there are put to the others of the picture. */
export function ghostsOf(
  evaluator: Evaluator,
  project: Project,
  sender: MeshSender,
  request: PictureRequest,
  meshes: PictureMesh[],
  checkpoint: () => void,
): PictureGhost[] {
  const { frames, results, plain } = request.ghosts;
  const ghosts: PictureGhost[] = [];
  const ids = plain.map((o) => o.object);
  for (const frame of results.length + plain.length > 0 ? frames : []) {
    checkpoint();
    const evaluation = evaluator.evaluate({ project, frame, wanted: results, purpose: 'compare', checkpoint });
    for (const ref of results) {
      const value = evaluation.value(ref);
      if (value?.form !== 'geometry') continue;
      const key = `frame ${frame} ${ref.node}`;
      meshes.push(sender.meshFor(request, key, value.mesh, checkpoint));
      ghosts.push({ frame, key, matrix: null });
    }
    if (ids.length === 0) continue;
    worldsAt(evaluator, project, ids, frame).forEach((matrix, i) =>
      ghosts.push({ frame, key: `asset ${plain[i].asset}`, matrix: Float64Array.from(matrix) }),
    );
  }
  return ghosts;
}
