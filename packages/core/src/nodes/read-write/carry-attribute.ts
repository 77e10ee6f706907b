import { ATTRIBUTE_WIDTH, type Attribute } from '../../geometry/attributes.ts';
import { trianglesOf } from '../../geometry/triangles.ts';
import { elementCount, withAttribute, type Mesh } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue } from '../../graph/node/values.ts';
import { indexOf } from '../../nearest/index.ts';
import { ATTRIBUTE_NAME, checkName, needAttribute } from '../attributes.ts';
import { choice, MESH_IN, MESH_OUT, text } from '../ports.ts';
import type { Setting } from '../../graph/node/definition.ts';

const BY: Setting = {
  id: 'by',
  label: 'By',
  type: 'choice',
  options: [
    { value: 'index', label: 'Number' },
    { value: 'nearest', label: 'Nearest point' },
    { value: 'surface', label: 'Nearest place on the surface' },
  ],
  default: 'index',
  help: 'Number: element 5 gets what element 5 has. Nearest: each point gets what the nearest point of the source has, or what lies between the corners of the nearest face.',
};

export const carryAttribute: NodeDefinition = {
  id: 'carry-attribute',
  version: 1,
  title: 'Carry Attribute',
  group: 'Read and write',
  summary:
    'Brings an attribute over from another mesh, by number or from the nearest point or place, under a new name if wanted.',
  keywords: ['copy', 'from', 'attribute', 'nearest', 'other mesh'],
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
  byPointNumber: true,
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
    const data = settings.by === 'index' ? found.data : fromNearest(context, mesh, source, found, settings.by === 'surface');
    const count = elementCount(mesh.topology, found.on);
    if (settings.by === 'index' && data.length !== count * ATTRIBUTE_WIDTH[found.type])
      throw new NodeError({
        code: 'attribute-count',
        name,
        count: data.length / ATTRIBUTE_WIDTH[found.type],
        on: found.on,
        elements: count,
      });
    return { mesh: meshValue(withAttribute(mesh, { ...found, name, data })) };
  },
};

/** Values of the nearest point, or of the nearest place on the surface, between its corners. */
function fromNearest(
  context: { floats(n: number): Float32Array; integers(n: number): Int32Array; checkpoint(): void },
  mesh: Mesh,
  source: Mesh,
  attribute: Attribute,
  onSurface: boolean,
): Float32Array | Int32Array {
  if (attribute.on !== 'point')
    throw new NodeError({ code: 'attribute-place', name: attribute.name, on: attribute.on, needs: 'point' });
  if (source.topology.pointCount === 0) throw new NodeError({ code: 'mesh-empty', what: 'The source' });
  const { points } = trianglesOf(source.topology);
  if (onSurface && points.length === 0) throw new NodeError({ code: 'no-elements', on: 'face' });
  const index = indexOf(source, onSurface ? 'faces' : 'points');
  const width = ATTRIBUTE_WIDTH[attribute.type];
  const { data } = attribute;
  const { pointCount } = mesh.topology;
  // Whole numbers have nothing between them: the corner with the largest weight decides.
  const whole = data instanceof Int32Array;
  const out = whole ? context.integers(pointCount * width) : context.floats(pointCount * width);
  const p = mesh.positions;
  let last = -1;
  for (let i = 0; i < pointCount; i++) {
    if ((i & 4095) === 0) context.checkpoint();
    const found = index.nearest(p[i * 3], p[i * 3 + 1], p[i * 3 + 2], Infinity, last);
    last = found;
    // A place that is not a number is near to nothing, and keeps 0.
    if (found < 0) continue;
    const a = onSurface ? points[found * 3] : found;
    const b = onSurface ? points[found * 3 + 1] : found;
    const c = onSurface ? points[found * 3 + 2] : found;
    const { weightB: wb, weightC: wc } = index;
    const wa = 1 - wb - wc;
    const largest = wa >= wb && wa >= wc ? a : wb >= wc ? b : c;
    for (let k = 0; k < width; k++) {
      out[i * width + k] = whole
        ? data[largest * width + k]
        : data[a * width + k] * wa + data[b * width + k] * wb + data[c * width + k] * wc;
    }
  }
  return out;
}
