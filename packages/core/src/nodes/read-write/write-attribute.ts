import type { Attribute, AttributePlace, AttributeRole, AttributeType } from '../../geometry/attributes.ts';
import { elementCount, withAttribute } from '../../geometry/mesh.ts';
import { elementsId } from '../../geometry/topology.ts';
import { moveValues } from '../../geometry/spread.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { isMeshPlace, meshValue, type Column, type Single } from '../../graph/node/values.ts';
import { ATTRIBUTE_NAME, ATTRIBUTE_ON, ATTRIBUTE_ROLE, checkName, checkPlace } from '../attributes.ts';
import { MESH_IN, MESH_OUT, text } from '../ports.ts';

export const writeAttribute: NodeDefinition = {
  id: 'write-attribute',
  version: 1,
  title: 'Write Attribute',
  group: 'Read and write',
  summary: 'Keeps values on a mesh under a name; they go with it through all that follows.',
  keywords: ['keep', 'save', 'label', 'weights', 'painted', 'colours'],
  inputs: () => [
    MESH_IN,
    {
      id: 'value',
      label: 'value',
      kind: 'value',
      default: 0,
      range: { min: 0, max: 1 },
      help: 'One value for all, or one per element.',
    },
  ],
  outputs: () => [MESH_OUT],
  settings: [
    ATTRIBUTE_NAME,
    ATTRIBUTE_ON,
    ATTRIBUTE_ROLE,
    {
      id: 'colour',
      label: 'Is a colour',
      type: 'toggle',
      default: false,
      help: 'Vectors are kept as colours, red, green and blue.',
    },
  ],
  sentence: (s) => (text(s, 'name') ? `${text(s, 'name')} on ${text(s, 'on')}s` : 'no name yet'),
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const { settings } = context;
    const name = checkName(text(settings, 'name'));
    const on = settings.on as AttributePlace;
    checkPlace(mesh, on);
    const value = context.input('value') as Column | Single;
    const width = value.kind === 'vector' ? 3 : 1;
    const count = elementCount(mesh.topology, on);
    let data: Float32Array | Int32Array;
    let whole = value.kind === 'integer' || value.kind === 'toggle';
    if (value.form === 'single') {
      data = whole ? context.integers(count) : context.floats(count * width);
      for (let i = 0; i < data.length; i++) data[i] = value.data[i % width];
    } else if (value.on === on && value.count === count) data = value.data as Float32Array;
    else if (isMeshPlace(value.on) && value.owner === elementsId(mesh.topology, value.on)) {
      data = moveValues(mesh.topology, value.data, width, value.on, on);
      whole = false;
    } else throw new NodeError({ code: 'attribute-count', name, count: value.count, on, elements: count });
    const type: AttributeType =
      width === 3 ? (settings.colour ? 'colour' : 'vector') : whole ? (value.kind as 'integer' | 'toggle') : 'number';
    const attribute: Attribute = {
      name,
      on,
      type,
      role: width === 3 && type === 'vector' ? (settings.role as AttributeRole) : 'plain',
      data,
    };
    return { mesh: meshValue(withAttribute(mesh, attribute)) };
  },
};
