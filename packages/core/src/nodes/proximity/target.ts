import { edgesOf } from '../../geometry/edges.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import type { InputPort, NodeContext, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import type { NearestOn } from '../../nearest/shared.ts';
import { choiceSetting } from '../ports.ts';

export const TARGET_IN: InputPort = {
  id: 'target',
  label: 'target',
  kind: 'mesh',
  help: 'The mesh to be near to. Swap it for another, or for scattered points, and the rest still works.',
};

export const ON = choiceSetting(
  'on',
  'Near to',
  [
    ['faces', 'Faces'],
    ['edges', 'Edges'],
    ['points', 'Points'],
  ],
  'Which elements of the target count.',
);

export const onOf = (s: Settings): NearestOn => s.on as NearestOn;

/** The target, checked to have elements of the kind. @throws NodeError when it has none */
export function needTarget(context: NodeContext, on: NearestOn): Mesh {
  const mesh = context.mesh('target');
  const { pointCount, faceCount } = mesh.topology;
  const count = on === 'points' ? pointCount : on === 'faces' ? faceCount : edgesOf(mesh.topology).count;
  if (count === 0) throw new NodeError({ code: 'target-empty', what: `"target", asked for its ${on},` });
  return mesh;
}
