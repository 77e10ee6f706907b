import { makeCopies } from '../../copies/copies.ts';
import { mergeMeshes } from '../../geometry/merge.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { transformMesh } from '../../geometry/transform.ts';
import type { NodeContext, NodeDefinition, ObjectView } from '../../graph/node/definition.ts';
import { copiesValue, integerValue, matricesValue, meshValue, type Value } from '../../graph/node/values.ts';
import { identity, invert, type Matrix } from '../../maths/index.ts';
import { matrixOutput } from '../matrices/lanes.ts';
import { choiceSetting, COPIES_OUT, MESH_OUT, text } from '../ports.ts';

export const sceneGroup: NodeDefinition = {
  id: 'scene-group',
  version: 1,
  title: 'Scene Group',
  group: 'Bring in',
  summary: 'Brings everything under a group into the graph: its meshes as one, or as copies.',
  keywords: ['members', 'many', 'objects', 'together', 'merge'],
  inputs: () => [],
  outputs: () => [
    { ...MESH_OUT, help: 'The meshes of all members as one, in the order of the scene list.' },
    { ...COPIES_OUT, help: 'The same as copies, one for each member.' },
    matrixOutput('matrices', 'matrices', 'World matrices of the objects directly under it, in the order of the scene list.'),
    matrixOutput('rests', 'rests', 'The same at rest.'),
    { id: 'count', label: 'count', kind: 'integer', help: 'How many members have a mesh.' },
  ],
  settings: [
    { id: 'object', label: 'Group', type: 'object', takes: 'group', help: 'The group to read.' },
    choiceSetting(
      'read',
      'Read',
      [
        ['source', 'Their own meshes'],
        ['result', 'What graphs made of them'],
      ],
      'Undeformed, or with what other graphs make of them.',
    ),
  ],
  sentence: (s, c) => `${c.objectName(s.object) ?? 'no group yet'}${s.read === 'result' ? ', results' : ''}`,
  reads: (s) => {
    const object = text(s, 'object');
    if (!object) return [];
    return [
      { object, facet: 'members', ports: ['mesh', 'copies', 'count', 'matrices'] },
      { object, facet: 'restMembers', ports: ['rests'] },
    ];
  },
  evaluate(context) {
    const group = context.object('object');
    const packed = (of: 'world' | 'rest') => {
      const all = new Float64Array(group.children.length * 16);
      group.children.forEach((o, i) => all.set(o[of], i * 16));
      return matricesValue(all, `under ${group.id}`);
    };
    if (context.wants('rests')) return { rests: packed('rest') };
    const useResults = context.settings.read === 'result';
    const members = group.members.filter((m) => m.source ?? (useResults && m.result));
    const out: Record<string, Value> = { count: integerValue(members.length) };
    if (context.wants('matrices')) out.matrices = packed('world');
    if (members.length === 0) {
      const about = ['mesh', 'copies'];
      if (about.some((port) => context.wants(port)))
        context.report({ code: 'group-empty', group: group.name, removed: group.isRemoved, severity: 'error', about });
      return out;
    }
    const inWorld = (m: ObjectView): Mesh =>
      useResults && m.result ? m.result : transformMesh(m.source as Mesh, m.world, context.room);
    if (context.wants('mesh')) out.mesh = meshValue(mergeMeshes(members.map(inWorld)));
    if (context.wants('copies')) {
      const matrices = new Float64Array(members.length * 16);
      const masters = members.map((m, i) => {
        const { mesh, matrix } =
          useResults && m.result ? ownResult(m.result, m.world, context.room) : { mesh: m.source as Mesh, matrix: m.world };
        matrices.set(matrix, i * 16);
        return mesh;
      });
      out.copies = copiesValue(
        makeCopies(
          masters,
          Int32Array.from(masters, (_, i) => i),
          matrices,
        ),
      );
    }
    return out;
  },
};

/**
 * What graphs made of an object as a copy that stands where the object does: the mesh in the object's own space, and
 * its world matrix; an object that is flat has no such space, its copy stands at the origin.
 */
function ownResult(result: Mesh, world: Matrix, floats: NodeContext['floats']): { mesh: Mesh; matrix: Matrix } {
  const back = identity();
  if (!invert(back, world)) return { mesh: result, matrix: identity() };
  return { mesh: transformMesh(result, back, floats), matrix: world };
}
