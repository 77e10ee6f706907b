import { ATTRIBUTE_WIDTH, type Attribute } from '../../geometry/attributes.ts';
import { elementCount, withAttribute, type Mesh } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/definition.ts';
import { NodeError } from '../../graph/problems.ts';
import { meshValue } from '../../graph/values.ts';
import { PointTree } from '../../nearest/points.ts';
import { ATTRIBUTE_NAME, checkName, needAttribute } from '../attributes.ts';
import { choice, MESH_IN, MESH_OUT, text } from '../ports.ts';
import type { Setting } from '../../graph/definition.ts';

const BY: Setting = {
  id: 'by',
  label: 'By',
  type: 'choice',
  options: [
    { value: 'index', label: 'Number' },
    { value: 'nearest', label: 'Nearest point' },
  ],
  default: 'index',
  help: 'Number: element 5 gets what element 5 has. Nearest point: each point gets what the nearest point of the source has.',
};

export const carryAttribute: NodeDefinition = {
  id: 'carry-attribute',
  version: 1,
  title: 'Carry Attribute',
  group: 'Read and write',
  summary:
    'Brings an attribute over from another mesh, by number or from the nearest point, under a new name if wanted.',
  keywords: ['transfer', 'copy', 'from', 'attribute', 'nearest'],
  inputs: () => [
    { ...MESH_IN, help: 'The mesh that gets the attribute.' },
    { id: 'source', label: 'source', kind: 'mesh', help: 'The mesh that has it.' },
  ],
  outputs: () => [MESH_OUT],
  settings: [
    { ...ATTRIBUTE_NAME, help: 'The attribute of the source; capital and small letters differ.' },
    { id: 'as', label: 'As', type: 'text', default: '', help: 'Its new name; empty keeps the name.' },
    BY,
  ],
  sentence: (s) => {
    const name = text(s, 'name');
    if (!name) return 'no attribute yet';
    return `${name}${text(s, 'as') && text(s, 'as') !== name ? ` as ${text(s, 'as')}` : ''}, by ${choice(BY, s)}`;
  },
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const source = context.mesh('source');
    const { settings } = context;
    const found = needAttribute(source, checkName(text(settings, 'name')));
    const name = text(settings, 'as') ? checkName(text(settings, 'as')) : found.name;
    const data = settings.by === 'nearest' ? fromNearest(context, mesh, source, found) : found.data;
    const count = elementCount(mesh.topology, found.on);
    if (settings.by !== 'nearest' && data.length !== count * ATTRIBUTE_WIDTH[found.type])
      throw new NodeError({ code: 'attribute-count', name, count: data.length / ATTRIBUTE_WIDTH[found.type], on: found.on, elements: count }); // prettier-ignore
    return { mesh: meshValue(withAttribute(mesh, { ...found, name, data })) };
  },
};

function fromNearest(
  context: { floats(n: number): Float32Array; integers(n: number): Int32Array; checkpoint(): void },
  mesh: Mesh,
  source: Mesh,
  attribute: Attribute,
): Float32Array | Int32Array {
  if (attribute.on !== 'point')
    throw new NodeError({ code: 'attribute-place', name: attribute.name, on: attribute.on, needs: 'point' });
  if (source.topology.pointCount === 0) throw new NodeError({ code: 'mesh-empty' });
  const tree = new PointTree(source.positions);
  const width = ATTRIBUTE_WIDTH[attribute.type];
  const { pointCount } = mesh.topology;
  const whole = attribute.data instanceof Int32Array;
  const out = whole ? context.integers(pointCount * width) : context.floats(pointCount * width);
  const p = mesh.positions;
  for (let i = 0; i < pointCount; i++) {
    if ((i & 4095) === 0) context.checkpoint();
    const from = tree.nearest(p[i * 3], p[i * 3 + 1], p[i * 3 + 2]);
    // A place that is not a number is near to nothing.
    for (let k = 0; k < width; k++) out[i * width + k] = from < 0 ? 0 : attribute.data[from * width + k];
  }
  return out;
}
