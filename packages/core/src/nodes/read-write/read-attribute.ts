import { ATTRIBUTE_WIDTH, type AttributePlace } from '../../geometry/attributes.ts';
import { elementCount } from '../../geometry/mesh.ts';
import { elementsId } from '../../geometry/topology.ts';
import { moveValues } from '../../geometry/spread.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import type { ElementKind } from '../../graph/node/values.ts';
import { ATTRIBUTE_NAME, ATTRIBUTE_ON, checkName, needAttribute, checkPlace } from '../attributes.ts';
import { MESH_IN, text } from '../ports.ts';

const KINDS: Record<string, ElementKind> = {
  number: 'number',
  integer: 'integer',
  toggle: 'toggle',
  vector: 'vector',
  colour: 'vector',
  pair: 'vector',
};

export const readAttribute: NodeDefinition = {
  id: 'read-attribute',
  version: 1,
  title: 'Read Attribute',
  group: 'Read and write',
  summary: 'Reads what a mesh carries under a name, one value for each element.',
  keywords: ['values', 'weights', 'painted', 'colours', 'uv', 'look up'],
  inputs: () => [MESH_IN],
  outputs: () => [
    {
      id: 'values',
      label: 'values',
      kind: 'value',
      help: 'The values, one per element; colours as vectors, uvs as vectors with z 0.',
    },
  ],
  settings: [
    ATTRIBUTE_NAME,
    {
      ...ATTRIBUTE_ON,
      type: 'choice',
      options: [{ value: 'own', label: 'As it is' }, ...(ATTRIBUTE_ON.type === 'choice' ? ATTRIBUTE_ON.options : [])],
      default: 'own',
    },
  ],
  sentence: (s) => (text(s, 'name') ? `${text(s, 'name')}${s.on === 'own' ? '' : ` on ${text(s, 'on')}s`}` : 'no name yet'),
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const { settings } = context;
    const a = needAttribute(mesh, checkName(text(settings, 'name')));
    const on = settings.on === 'own' ? a.on : (settings.on as AttributePlace);
    checkPlace(mesh, on);
    const width = ATTRIBUTE_WIDTH[a.type];
    let data: Float32Array | Int32Array =
      on === a.on ? (a.data as Float32Array) : moveValues(mesh.topology, a.data, width, a.on, on);
    const kind = on === a.on ? KINDS[a.type] : KINDS[a.type] === 'vector' ? 'vector' : 'number';
    if (a.type === 'pair')
      data = Float32Array.from({ length: (data.length / 2) * 3 }, (_, i) =>
        i % 3 === 2 ? 0 : data[Math.floor(i / 3) * 2 + (i % 3)],
      );
    const count = elementCount(mesh.topology, on);
    return {
      values: { form: 'column', kind, count, data, on, owner: elementsId(mesh.topology, on), role: a.role },
    };
  },
};
