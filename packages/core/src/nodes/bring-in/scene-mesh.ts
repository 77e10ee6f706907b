import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { matrixValue, meshValue } from '../../graph/node/values.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { transformMesh } from '../../geometry/transform.ts';
import { identity, invert } from '../../maths/matrix.ts';
import { MESH_OUT, text } from '../ports.ts';

export const sceneMesh: NodeDefinition = {
  id: 'scene-mesh',
  version: 1,
  title: 'Scene Mesh',
  group: 'Bring in',
  summary: 'Brings a mesh object of the scene into the graph, with its matrices.',
  keywords: ['geometry', 'object', 'source', 'result', 'import'],
  inputs: () => [],
  outputs: () => [
    MESH_OUT,
    { id: 'matrix', label: 'matrix', kind: 'matrix', help: "The object's world matrix now." },
    { id: 'rest', label: 'rest', kind: 'matrix', help: "The object's world matrix at rest." },
  ],
  settings: [
    { id: 'object', label: 'Object', type: 'object', takes: 'mesh', help: 'The mesh object to read.' },
    {
      id: 'read',
      label: 'Read',
      type: 'choice',
      options: [
        { value: 'source', label: 'Its own mesh' },
        { value: 'result', label: 'What graphs made of it' },
      ],
      default: 'source',
      help: 'The object’s undeformed mesh, or the result another Show Mesh makes of it.',
    },
    {
      id: 'space',
      label: 'Space',
      type: 'choice',
      options: [
        { value: 'world', label: 'World' },
        { value: 'own', label: 'Own' },
      ],
      default: 'world',
      help: 'World: points where they stand in the scene. Own: points as in the object’s own space.',
    },
  ],
  sentence: (s, c) =>
    `${c.objectName(s.object) ?? 'no object yet'}${s.read === 'result' ? ', result' : ''}, ${s.space === 'own' ? 'own' : 'world'} space`,
  reads: (s) => {
    const object = text(s, 'object');
    if (!object) return [];
    return [
      { object, facet: s.read === 'result' ? 'result' : 'source', ports: ['mesh'] },
      { object, facet: 'world', ports: needsWorld(s) ? ['mesh', 'matrix'] : ['matrix'] },
      { object, facet: 'rest', ports: ['rest'] },
    ];
  },
  evaluate(context) {
    const { settings } = context;
    const object = context.object('object');
    const matrices = { matrix: matrixValue(object.world), rest: matrixValue(object.rest) };
    if (!context.wants('mesh')) return matrices;
    const found = settings.read === 'result' ? (object.result ?? object.source) : object.source;
    if (!found) throw new NodeError({ code: 'object-empty', object: object.name });
    if (found.topology.pointCount === 0) context.report({ code: 'mesh-empty', severity: 'warning' });
    let mesh: Mesh = found;
    if (found === object.result) {
      // Results are kept in world space (DECISIONS 12).
      if (settings.space === 'own') {
        const inverse = identity();
        if (invert(inverse, object.world)) mesh = transformMesh(found, inverse, context.room);
        else
          context.report({
            code: 'matrix-singular',
            what: `The world matrix of "${object.name}"`,
            so: 'its result stays in world space',
            severity: 'warning',
          });
      }
    } else if (settings.space !== 'own') mesh = transformMesh(found, object.world, context.room);
    return { mesh: meshValue(mesh), ...matrices };
  },
};

const needsWorld = (s: Readonly<Record<string, unknown>>) => (s.space === 'own') === (s.read === 'result');
