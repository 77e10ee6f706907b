import {
  CATALOGUE,
  catalogueOf,
  expandProject,
  facetGraph,
  makeGrid,
  typeOfUse,
  offeredWays,
  packNodes,
  resolveGraph,
  type GraphRecord,
  type ModuleRecord,
  type NodeRecord,
  type Project,
} from '@umberfish/core';
import { evaluatorOf, graph, node, project, swell, SHOWN } from '../../packages/core/src/testing/build.ts';
import { compare, sink, type Trial } from '../measure.ts';

/** Modules beside the same nodes without walls: evaluating, laying out a large document, and an edit in it. */
export function modulesSuite(): Trial[] {
  return [threeInARow(), ...large()];
}

const INSIDE = ['values', 'distance', 'ratio', 'response', 'offset', 'move'];

/** The swell, along an axis: the normals of each mesh would take most of the time, which is not what is measured. */
const along = swell();
const pushed: GraphRecord = {
  ...along,
  nodes: along.nodes.map((n) => (n.id === 'offset' ? { ...n, inputs: { ...n.inputs, a: [0.1, 0.8, 0.2] } } : n)),
  wires: along.wires.filter((w) => w.to.node !== 'offset' || w.to.port !== 'a'),
};

/** Three swells in a row on a million points, in modules and flat. */
function threeInARow(): Trial {
  const mesh = makeGrid([4, 4], [999, 999]);
  const { nodes, wires } = pushed;
  const ends = nodes.filter((n) => !INSIDE.includes(n.id));
  const flat = (height: number): Project => {
    const all: NodeRecord[] = [...ends];
    const texts: string[] = [];
    for (let k = 0; k < 3; k++) {
      for (const n of nodes)
        if (INSIDE.includes(n.id))
          all.push({ ...n, id: `${n.id}${k}`, inputs: n.id === 'offset' ? { ...n.inputs, c: height * (k + 1) } : n.inputs });
      for (const w of wires) {
        const name = (id: string) => (INSIDE.includes(id) ? `${id}${k}` : id === 'in' && k > 0 ? `move${k - 1}` : id);
        if (w.to.node === 'show') {
          if (k === 2) texts.push(`move2.mesh > show.mesh`);
        } else texts.push(`${name(w.from.node)}.${w.from.port} > ${name(w.to.node)}.${w.to.port}`);
      }
    }
    return project([graph(all, texts)]);
  };
  const ways = offeredWays(CATALOGUE, project([pushed]), 'graph', INSIDE).filter((w) => w.needed || w.way.default === 0.3);
  const packed = packNodes(CATALOGUE, project([pushed]), 'graph', INSIDE, 'Swell', ways);
  const use = packed.project.graphs[0].nodes.find((n) => n.id === packed.use)!;
  const { inputs, outputs } = resolveGraph(catalogueOf(CATALOGUE, packed.project), packed.project.graphs[0]).get(use.id)!;
  const [meshIn, place, height] = [
    inputs.find((i) => i.kind === 'mesh')!,
    inputs.find((i) => i.kind === 'vector')!,
    inputs.find((i) => i.default === 0.3)!,
  ];
  const used = (dial: number): Project => {
    const uses = [0, 1, 2].map((k): NodeRecord => ({ ...use, id: `use${k}`, inputs: { [height.id]: dial * (k + 1) } }));
    const texts = [0, 1, 2].flatMap((k) => [
      `${k === 0 ? 'in.mesh' : `use${k - 1}.${outputs[0].id}`} > use${k}.${meshIn.id}`,
      `locator.position > use${k}.${place.id}`,
    ]);
    return { ...packed.project, graphs: [graph([...ends, ...uses], [...texts, `use2.${outputs[0].id} > show.mesh`])] };
  };
  const run = (of: (dial: number) => Project) => {
    const evaluator = evaluatorOf(mesh, { arrays: {}, cacheInBytes: 1e8 });
    let step = 0;
    return () => {
      const request = { project: of(0.1 + ++step * 1e-5), frame: 1, wanted: [SHOWN], gesture: 'dial' };
      const value = evaluator.evaluate(request).value(SHOWN);
      if (value?.form !== 'geometry') throw new Error('Nothing is shown.');
      evaluator.settle();
      sink.value += value.mesh.positions[4];
      return value.mesh.positions;
    };
  };
  const [a, b] = [run(used), run(flat)];
  const [mine, theirs] = [a(), b()];
  if (mine.some((v, i) => v !== theirs[i])) throw new Error('Modules give other numbers.');
  return compare('three uses of a module in a row on 1,000,000 points ÷ the same nodes flat', a, b, 'lower', 1.05, 25);
}

/** A thousand uses of a module of twenty nodes. */
function large(): Trial[] {
  const chain = Array.from({ length: 20 }, (_, i) => node(`n${i}`, 'arithmetic', { inputs: { b: i } }));
  const wires = Array.from({ length: 19 }, (_, i) => `n${i}.result > n${i + 1}.a`);
  const walls = (kind: string) =>
    ({
      ways: {
        ways: [
          {
            id: 'w',
            name: 'w',
            kind,
            unit: '',
            help: '',
            default: 1,
            range: null,
            optional: false,
            group: '',
            control: 'wire',
            shown: null,
            start: 'origin',
            sets: [],
          },
        ],
      },
    }) as never;
  const inside = graph(
    [node('i', 'way-in', { settings: walls('value') }), ...chain, node('o', 'way-out', { settings: walls('number') })],
    ['i.w > n0.a', ...wires, 'n19.result > o.w'],
    'inside',
  );
  const module: ModuleRecord = {
    id: 'm',
    version: 0,
    edited: true,
    name: 'M',
    summary: '',
    tags: [],
    example: 'ball',
    proofs: [],
    graph: inside,
  };
  const uses = Array.from({ length: 1000 }, (_, i) => node(`u${i}`, typeOfUse(module), { inputs: { w: i } }));
  const used = { ...project([graph(uses, [])]), modules: [module] };
  const flatGraph = expandProject(CATALOGUE, used).project.graphs[0];
  const outline = (p: Project) => void (sink.value += facetGraph(CATALOGUE, p).units.size);
  /** The same document as if it had just been opened: nothing is remembered of it. */
  const anew = (g: GraphRecord): GraphRecord => ({
    ...g,
    nodes: g.nodes.map((n) => ({ ...n })),
    wires: g.wires.map((w) => ({ ...w })),
  });
  const opened = () => outline({ ...used, modules: [{ ...module, graph: anew(inside) }], graphs: [anew(used.graphs[0])] });
  const flat = () => outline({ ...used, modules: [], graphs: [anew(flatGraph)] });
  let step = 0;
  const turned = (): Project => {
    const [g] = used.graphs;
    return { ...used, graphs: [{ ...g, nodes: g.nodes.map((n, i) => (i === 500 ? { ...n, inputs: { w: ++step } } : n)) }] };
  };
  const edited = (): Project => {
    const nodes = inside.nodes.map((n) => (n.id === 'n7' ? { ...n, inputs: { b: ++step } } : n));
    return { ...used, modules: [{ ...module, graph: { ...inside, nodes } }] };
  };
  const expand = (of: () => Project) => () => void (sink.value += expandProject(CATALOGUE, of()).project.graphs.length);
  outline(used);
  return [
    compare(
      '1,000 uses of a module of 20 nodes, expanded and outlined ÷ the flat document of 20,000 nodes',
      opened,
      flat,
      'lower',
      1.5,
      8,
    ),
    compare('a dial of one of the 1,000 uses turned, expanded ÷ that', expand(turned), flat, 'lower', 0.1, 8),
    compare('a card inside of the module changed, expanded ÷ that', expand(edited), flat, 'lower', 0.1, 15),
  ];
}
