import type { AttributePlace, AttributeRole, AttributeType } from '../../geometry/attributes.ts';
import type { ElementPlan, InputPort, NodeDefinition, Settings } from '../../graph/node/definition.ts';
import type { Mesh } from '../../geometry/mesh.ts';
import { meshNames } from '../../graph/node/mesh-lane.ts';
import { NodeError } from '../../graph/node/problems.ts';
import {
  formulaReadsTime,
  readFormula,
  widthOf,
  type Formula,
  type FormulaSource,
  type FormulaValue,
  type ProgramBuilder,
} from '../../expression/index.ts';
import type { Names } from '../../project/fields.ts';
import { ATTRIBUTE_ON, REST_NORMAL, REST_POSITION, checkPlace } from '../attributes.ts';
import { MESH_IN, MESH_OUT, text } from '../ports.ts';

const names = (s: Settings, id: string): Names['names'] => (s[id] as Names).names;

/** The formula of a node's settings. */
export const formulaOf = (s: Settings): FormulaSource => ({
  text: text(s, 'formula'),
  inputs: names(s, 'inputs'),
  outputs: names(s, 'outputs'),
});

/** How an output of a certain name follows a change of space: as the attributes that other nodes write under it. */
const ROLES: Readonly<Record<string, AttributeRole>> = {
  position: 'position',
  [REST_POSITION]: 'position',
  normal: 'normal',
  [REST_NORMAL]: 'normal',
};
const roleOf = (name: string, type: AttributeType): AttributeRole => (type === 'vector' ? (ROLES[name] ?? 'plain') : 'plain');

export const formula: NodeDefinition = {
  id: 'formula',
  version: 1,
  title: 'Formula',
  group: 'Read and write',
  summary: 'Computes values per element by written maths with bare names, and writes them to the mesh.',
  keywords: ['expression', 'equation', 'code', 'maths', 'script', 'calculate'],
  inputs: (s) => [
    {
      ...MESH_IN,
      optional: true,
      help: 'The mesh whose names the formula uses, and to which its outputs are written.',
    },
    ...names(s, 'inputs').map((n): InputPort => ({
      id: n.name,
      label: n.name,
      kind: n.type === 'number' ? 'number' : 'vector',
      default: n.type === 'number' ? 0 : [0, 0, 0],
      range: { min: -10, max: 10 },
      help: `"${n.name}" in the formula: one for all, or one per element.`,
    })),
  ],
  outputs: (s) => [
    {
      ...MESH_OUT,
      help: 'The mesh with every output written to it under its name; "position" moves the points.',
    },
    ...names(s, 'outputs').map((n) => ({
      id: n.name,
      label: n.name,
      kind: n.type === 'number' ? ('number' as const) : ('vector' as const),
      help: `What the formula gives to "${n.name}".`,
    })),
  ],
  settings: [
    {
      id: 'formula',
      label: 'Formula',
      type: 'formula',
      default: '',
      help: 'Lines of name = value, from top to bottom. A name that is not an output below is only used here.',
    },
    {
      id: 'inputs',
      label: 'Inputs',
      type: 'names',
      side: 'input',
      default: { names: [] },
      help: 'Each is a port of the card and a name in the formula.',
    },
    {
      id: 'outputs',
      label: 'Outputs',
      type: 'names',
      side: 'output',
      default: { names: [{ name: 'result', type: 'number' }] },
      help: 'Each is a port of the card, and is written to the mesh under its name.',
    },
    { ...ATTRIBUTE_ON, help: 'What the formula is worked out for, one by one.' },
  ],
  sentence: (s) => {
    const lines = text(s, 'formula')
      .split('\n')
      .filter((l) => l.trim() !== '');
    if (lines.length === 0) return 'nothing written yet';
    return lines.length === 1
      ? lines[0].trim()
      : `${lines.length} lines for ${names(s, 'outputs')
          .map((o) => o.name)
          .join(', ')}`;
  },
  readsTime: (s) => formulaReadsTime(formulaOf(s)),
  passes: { mesh: 'mesh' },
  elements: { plan, program },
};

function plan(s: Settings, _kinds: unknown, meshes: ReadonlyMap<string, Mesh> = new Map()): ElementPlan {
  const source = formulaOf(s);
  const mesh = meshes.get('mesh');
  const on = text(s, 'on') as AttributePlace;
  const read = checked(source, mesh);
  const lane = (width: 1 | 3) => (width === 1 ? ('number' as const) : ('vector' as const));
  const type = (n: Names['names'][number]): AttributeType => n.type;
  if (mesh) checkPlace(mesh, on);
  if (mesh && on !== 'point' && source.outputs.some((o) => o.name === 'position')) {
    throw new NodeError({
      code: 'formula',
      line: 1,
      message: `gives "position", which only points have, but is worked out on ${on}s. Set On to points.`,
    });
  }
  return {
    inputs: read.reads.map((r) =>
      r.from === 'input' ? { port: r.name, lane: lane(r.width) } : { port: 'mesh', lane: lane(r.width), read: r.name },
    ),
    outputs: source.outputs.map((o) => ({
      port: o.name,
      lane: lane(widthOf(o.type)),
      role: roleOf(o.name, type(o)),
    })),
    ...(mesh && {
      mesh: {
        port: 'mesh',
        from: 'mesh',
        on,
        writes: source.outputs.map((o, output) => ({ output, name: o.name, type: type(o), role: roleOf(o.name, type(o)) })),
      },
    }),
  };
}

function program(b: ProgramBuilder, inputs: readonly FormulaValue[], s: Settings, made: ElementPlan): FormulaValue[] {
  const attributes = new Map(
    made.inputs.filter((i) => i.read).map((i) => [i.read as string, i.lane === 'number' ? 1 : 3] as const),
  );
  const given = (name: string, from: 'input' | 'mesh') =>
    inputs[made.inputs.findIndex((i) => (from === 'mesh' ? i.read === name : !i.read && i.port === name))];
  const read = readFormula(formulaOf(s), { given, ...(made.mesh && { attributes }) }, b);
  return read.results.map((r) => [...r.values]);
}

/** The formula, ready to run. @throws NodeError with its first problem */
function checked(source: FormulaSource, mesh: Mesh | undefined): Formula {
  const read = readFormula(source, mesh ? { attributes: meshNames(mesh) } : {});
  const [first] = read.problems;
  if (!first) return read;
  const line = source.text.slice(0, first.from).split('\n').length;
  throw new NodeError({ code: 'formula', message: first.message, line });
}
