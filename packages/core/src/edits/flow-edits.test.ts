import { describe, expect, test } from 'vitest';
import { CATALOGUE } from '../nodes/index.ts';
import type { GraphRecord, NodeRecord, Project } from '../project/schema.ts';
import { graph, node, project } from '../testing/build.ts';
import { goOnFrom, objectBehind, putBetween, removeAndHeal, replaceNode, takeOut } from './flow-edits.ts';

/** A fish that is smoothed, swollen by a distance and shown. */
const FLAT = graph(
  [
    node('fish', 'scene-mesh', { settings: { object: 'fish' } }),
    node('even', 'smooth', { inputs: { rounds: 7 } }),
    node('swell', 'swell-out', { inputs: { amount: 0.3 } }),
    node('show', 'show-mesh', { settings: { object: 'fish' } }),
    node('here', 'scene-locator', { settings: { object: 'here' } }),
    node('values', 'point-values'),
    node('far', 'measure'),
  ],
  [
    'fish.mesh > even.mesh',
    'even.mesh > swell.mesh',
    'swell.mesh > show.mesh',
    'fish.mesh > values.mesh',
    'values.positions > far.a',
    'here.position > far.b',
    'far.result > swell.weight',
  ],
);
const base: Project = project([FLAT]);
const after = (edit: (p: Project) => Project) => edit(base).graphs[0];
const ends = (g: Pick<GraphRecord, 'wires'>) =>
  g.wires.map((w) => `${w.from.node}.${w.from.port} > ${w.to.node}.${w.to.port}`).sort();

describe('a new card goes on from the picked one', () => {
  const onFrom = (from: string, type: string) => {
    const [at, port] = from.split('.');
    const { wires, without } = goOnFrom(CATALOGUE, FLAT, { node: at, port }, node('new', type));
    return [ends({ wires }), without];
  };

  test('into its first input that fits, and between where that is only shown', () => {
    expect(onFrom('swell.mesh', 'bulge')).toEqual([
      ['new.mesh > show.mesh', 'swell.mesh > new.mesh'],
      ['swell.mesh > show.mesh'],
    ]);
    expect(onFrom('fish.mesh', 'bulge')).toEqual([['fish.mesh > new.mesh'], []]);
    expect(onFrom('far.result', 'response')).toEqual([['far.result > new.value'], []]);
    expect(onFrom('here.position', 'bulge')).toEqual([['here.position > new.centre'], []]);
  });

  test('not at all where nothing fits, nor a second show behind the first', () => {
    expect(onFrom('here.matrix', 'make-sphere')).toEqual([[], []]);
    expect(onFrom('swell.mesh', 'show-mesh')).toEqual([['swell.mesh > new.mesh'], []]);
    expect(onFrom('gone.mesh', 'bulge')).toEqual([[], []]);
  });
});

describe('a card dropped on a wire', () => {
  const withLone = (lone: NodeRecord): Project => ({ ...base, graphs: [{ ...FLAT, nodes: [...FLAT.nodes, lone] }] });

  test('goes between its ends', () => {
    const p = withLone(node('new', 'bulge'));
    const edit = putBetween(CATALOGUE, p.graphs[0], 'even.mesh > swell.mesh', 'new');
    const now = ends(edit!(p).graphs[0]);
    expect(now).toContain('even.mesh > new.mesh');
    expect(now).toContain('new.mesh > swell.mesh');
    expect(now).not.toContain('even.mesh > swell.mesh');
  });

  test('stays beside it where it does not fit, or is one of its ends', () => {
    const p = withLone(node('new', 'clock'));
    expect(putBetween(CATALOGUE, p.graphs[0], 'even.mesh > swell.mesh', 'new')).toBeUndefined();
    expect(putBetween(CATALOGUE, FLAT, 'even.mesh > swell.mesh', 'even')).toBeUndefined();
    // What hangs on the end of the wire would close a loop; what has wires is not loose.
    expect(putBetween(CATALOGUE, FLAT, 'fish.mesh > even.mesh', 'swell')).toBeUndefined();
    expect(putBetween(CATALOGUE, FLAT, 'gone', 'even')).toBeUndefined();
  });
});

describe('a card that is taken out', () => {
  test('removed, heals its chain, several in a row too', () => {
    expect(ends(after(removeAndHeal(CATALOGUE, FLAT, ['even'])))).toContain('fish.mesh > swell.mesh');
    const both = ends(after(removeAndHeal(CATALOGUE, FLAT, ['even', 'swell'])));
    expect(both).toContain('fish.mesh > show.mesh');
    expect(both).toHaveLength(4);
    // What makes a value of its own passes nothing on.
    expect(ends(after(removeAndHeal(CATALOGUE, FLAT, ['far'])))).not.toContain('values.positions > swell.weight');
    expect(ends(after(removeAndHeal(CATALOGUE, FLAT, ['fish'])))).toHaveLength(5);
  });

  test('dragged out, stays without wires, and what goes with it keeps those among it', () => {
    const now = after(takeOut(CATALOGUE, FLAT, ['swell', 'far']));
    expect(now.nodes).toHaveLength(7);
    expect(ends(now)).toContain('even.mesh > show.mesh');
    expect(ends(now)).toContain('far.result > swell.weight');
    expect(ends(now)).not.toContain('even.mesh > swell.mesh');
  });

  test('heals nothing that goes round in itself', () => {
    const round = graph(
      [node('a', 'smooth'), node('b', 'smooth'), node('c', 'smooth')],
      ['a.mesh > b.mesh', 'b.mesh > a.mesh', 'b.mesh > c.mesh'],
    );
    const p = project([round]);
    expect(ends(removeAndHeal(CATALOGUE, round, ['a', 'b'])(p).graphs[0])).toEqual([]);
  });
});

describe('a card replaced by another kind', () => {
  test('keeps wires and numbers by name and kind', () => {
    const now = after(replaceNode(CATALOGUE, FLAT, 'swell', CATALOGUE.get('bulge')!));
    expect(ends(now)).toEqual(ends(FLAT));
    const it = now.nodes.find((n) => n.id === 'swell')!;
    expect([it.type, it.position, it.inputs]).toEqual(['bulge', FLAT.nodes[2].position, {}]);
    const smooth = after(replaceNode(CATALOGUE, FLAT, 'even', CATALOGUE.get('subdivide')!)).nodes.find((n) => n.id === 'even')!;
    expect(
      Object.keys(smooth.inputs).every((k) =>
        CATALOGUE.get('subdivide')!
          .inputs({})
          .some((i) => i.id === k),
      ),
    ).toBe(true);
  });

  test('drops what fits nowhere, and keeps every wire one that may be', () => {
    for (const type of CATALOGUE.values()) {
      const now = after(replaceNode(CATALOGUE, FLAT, 'swell', type));
      const into = now.wires.filter((w) => w.to.node === 'swell').map((w) => w.to.port);
      expect(new Set(into).size, type.id).toBe(into.length);
      const settings = Object.fromEntries(type.settings.map((s) => [s.id, 'default' in s ? s.default : null]));
      const ports = [...type.inputs(settings), ...type.outputs(settings)].map((p) => p.id);
      for (const w of now.wires)
        for (const end of [w.from, w.to]) if (end.node === 'swell') expect(ports, type.id).toContain(end.port);
    }
  });
});

test('replaced, a node keeps its wires to one of a type that is not known here', () => {
  const odd = graph([node('even', 'smooth'), node('odd', 'of another time')], ['even.mesh > odd.in']);
  const edit = replaceNode(CATALOGUE, odd, 'even', CATALOGUE.get('subdivide')!);
  expect(ends(edit(project([odd])).graphs[0])).toEqual(['even.mesh > odd.in']);
});

test('the object behind a mesh is found through what passes it on', () => {
  expect(objectBehind(CATALOGUE, FLAT, { node: 'swell', port: 'mesh' })).toBe('fish');
  expect(objectBehind(CATALOGUE, FLAT, { node: 'values', port: 'positions' })).toBe('fish');
  expect(objectBehind(CATALOGUE, FLAT, { node: 'here', port: 'matrix' })).toBeUndefined();
  const made = graph([node('ball', 'make-sphere'), node('even', 'smooth')], ['ball.mesh > even.mesh']);
  expect(objectBehind(CATALOGUE, made, { node: 'even', port: 'mesh' })).toBeUndefined();
});
