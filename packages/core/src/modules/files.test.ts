import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { changeModule, exposeInput, ownCopy, usesOfWay, withoutUnusedModules } from '../edits/module-edits.ts';
import { published, takeIn, ofVersion } from '../edits/module-versions.ts';
import { lostWith, otherVersions } from '../edits/module-losses.ts';
import { makeKey, trackOf } from '../scene/keys.ts';
import { setInput, setSetting } from '../edits/document.ts';
import { movesBetween } from '../proofs/moves.ts';
import { offeredWays, packNodes } from '../edits/pack.ts';
import { makeSphere } from '../geometry/primitives.ts';
import { wireNote } from '../graph/network/connect.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { readProjectDocument } from '../project/file.ts';
import type { Way } from '../project/fields.ts';
import { moduleKey, typeOfUse } from '../project/modules.ts';
import type { ModuleRecord, Project } from '../project/schema.ts';
import { evaluatorOf, project, swell, SHOWN } from '../testing/build.ts';
import { catalogueOf, circleThrough } from './definitions.ts';
import { moduleFile, moduleHash, ModuleFileError, readModuleFile, writeModuleFile } from './file.ts';
import { compareWalls, changeWords, nextVersion, versionWords } from './versions.ts';
import { graphAt, insideOf } from './views.ts';
import { wallsOf } from './walls.ts';

/** The swell with all but its ends in a module, and that in another. */
function nested(): { project: Project; outer: ModuleRecord; inner: ModuleRecord; use: string } {
  const pack = (p: Project, picked: string[], name: string) =>
    packNodes(
      CATALOGUE,
      p,
      'graph',
      picked,
      name,
      offeredWays(CATALOGUE, p, 'graph', picked).filter((w) => w.needed),
    );
  const first = pack(project([swell()], [0.5, 0.4, 0.3]), ['distance', 'ratio', 'response'], 'Nearness');
  const second = pack(first.project, [first.use, 'values', 'offset', 'move'], 'Swell');
  const inner = second.project.modules.find((m) => m.name === 'Nearness')!;
  return { project: second.project, outer: second.module, inner, use: second.use };
}

const shown = (p: Project) => {
  const value = evaluatorOf(makeSphere(1, 6, 8))
    .evaluate({ project: p, frame: 3, wanted: [SHOWN] })
    .value(SHOWN);
  if (value?.form !== 'geometry') throw new Error('Nothing is shown.');
  return Array.from(value.mesh.positions);
};

const ins = (m: ModuleRecord): readonly Way[] => wallsOf(CATALOGUE, m.graph).ins;

describe('A module file', () => {
  test('is whole: brought into another project, it does what it did; brought twice, it is there once', () => {
    const { project: p, outer } = nested();
    const text = writeModuleFile(moduleFile(p, outer, 'first', '2026-11-28'));
    const file = readModuleFile(text);
    expect(writeModuleFile(file)).toBe(text);
    expect(file.inside.map((m) => m.name)).toEqual(['Nearness']);
    // Where it came from, nothing is new.
    expect(takeIn(p, file)).toMatchObject({ project: p, notes: [] });
    const other = { ...p, modules: [] };
    const once = takeIn(other, file);
    expect(once.notes).toEqual([]);
    expect(once.project.modules.map(moduleKey).sort()).toEqual(p.modules.map(moduleKey).sort());
    expect(shown(once.project)).toEqual(shown(p));
    expect(takeIn(once.project, file).project).toBe(once.project);
  });

  test('of the same id and version but other content is kept beside the other, and told', () => {
    const { project: p, outer, inner } = nested();
    const file = moduleFile(p, outer, '', '');
    // Here, the inner one does something else.
    const changed = changeModule(moduleKey(inner), { summary: 'other' })(p);
    const { project: both, module, notes } = takeIn(changed, file);
    expect(notes).toHaveLength(2);
    expect(notes.join()).toContain('Both are kept');
    expect(both.modules).toHaveLength(4);
    expect(shown(both)).toEqual(shown(p));
    // The new one uses the new inner one: together they are what the file holds, but for their names.
    const used = both.modules.find((m) => module.graph.nodes.some((n) => n.type === typeOfUse(m)));
    expect(used?.name).toBe('Nearness 2');
    expect(takeIn(both, file).project).toBe(both);
  });

  test('that is broken is refused with one sentence, whatever it is', () => {
    const { project: p, outer, inner } = nested();
    const good = moduleFile(p, outer, '', '');
    const refuse = (text: string): string => {
      try {
        readModuleFile(text);
      } catch (e) {
        expect(e).toBeInstanceOf(ModuleFileError);
        return (e as Error).message;
      }
      return 'taken';
    };
    expect(refuse('{')).toContain('not JSON');
    expect(refuse('[]')).toContain('not an Umberfish module');
    expect(refuse(JSON.stringify({ ...good, version: 9 }))).toContain('newer Umberfish');
    expect(refuse('['.repeat(10_000))).toContain('not JSON');
    expect(refuse(JSON.stringify({ ...good, module: { ...outer, graph: { ...outer.graph, nodes: [3] } } }))).toContain('nodes');
    expect(
      refuse(
        JSON.stringify({
          ...good,
          module: { ...outer, graph: { ...outer.graph, nodes: [...outer.graph.nodes, outer.graph.nodes[0]] } },
        }),
      ),
    ).toContain('two nodes');
    expect(
      refuse(
        JSON.stringify({
          ...good,
          module: { ...outer, graph: { ...outer.graph, nodes: [{ ...outer.graph.nodes[0], id: 'a/b' }] } },
        }),
      ),
    ).toContain('"/"');
    const inItself = {
      ...inner,
      graph: { ...inner.graph, nodes: [...inner.graph.nodes, { ...inner.graph.nodes[0], id: 'x', type: typeOfUse(outer) }] },
    };
    expect(refuse(JSON.stringify({ ...good, inside: [inItself] }))).toMatch(/contains itself: .*Swell in Nearness in Swell/);
    const text = JSON.stringify(good);
    fc.assert(
      fc.property(fc.nat(text.length - 1), fc.nat(60), fc.string(), (at, length, instead) => {
        refuse(text.slice(0, at) + instead + text.slice(at + length));
      }),
      { numRuns: 300 },
    );
  });
});

test('a project file with modules that cannot be told apart is refused or put right, with a word', () => {
  const { project: p, outer } = nested();
  const read = (change: (q: Project) => object) => readProjectDocument(JSON.parse(JSON.stringify(change(p))));
  expect(read((q) => ({ ...q, modules: [...q.modules, outer] })).repairs).toEqual([
    'The module "Swell" was there twice, or its graph was; the first is kept.',
  ]);
  const [g] = p.graphs;
  expect(() => read((q) => ({ ...q, graphs: [{ ...g, nodes: [{ ...g.nodes[0], id: 'in/it' }] }] }))).toThrow('"/"');
  const stray = { id: 'w', from: { node: 'nobody', port: 'x' }, to: { node: outer.graph.nodes[1].id, port: 'mesh' }, pins: [] };
  const odd = read((q) => ({
    ...q,
    modules: q.modules.map((m) => (m.id === outer.id ? { ...m, graph: { ...m.graph, wires: [...m.graph.wires, stray] } } : m)),
  }));
  expect(odd.repairs).toEqual(['1 wire in "Swell" led nowhere or doubled another, and was left out.']);
  expect(shown(odd.project)).toEqual(shown(p));
});

describe('Versions', () => {
  test('count by what breaks', () => {
    expect([nextVersion(0, true), nextVersion(1000, false), nextVersion(1001, true), nextVersion(2999, false)]).toEqual([
      1000, 1001, 2000, 3000,
    ]);
    expect([0, 1000, 2001].map(versionWords)).toEqual(['none', '1.0', '2.1']);
  });

  test('what changes is told, and whether it breaks uses', () => {
    const { project: p, outer, use } = nested();
    const inside = insideOf(use);
    const types = catalogueOf(CATALOGUE, p);
    const view = graphAt(p, inside)!;
    const offset = view.nodes.find((n) => n.id.endsWith('/offset'))!;
    // A new dial breaks nothing.
    const more = exposeInput(types, inside, { node: offset.id, port: 'c' })(p);
    const now = (q: Project) => q.modules.find((m) => m.id === outer.id)!;
    const added = compareWalls(CATALOGUE, outer, now(more));
    expect(added.added.map((w) => w.name)).toEqual(['arithmetic c']);
    expect(added.breaks).toEqual([]);
    expect(shown(more)).toEqual(shown(p));
    // Renamed, it is the same; gone, of another kind or unit, it is not.
    const wall = view.nodes.find((n) => n.type === 'way-in')!;
    const withWays = (change: (w: Way, i: number) => Way | undefined) =>
      setSetting(types, inside, wall.id, 'ways', { ways: ins(outer).flatMap((w, i) => change(w, i) ?? []) })(p);
    const renamed = withWays((w, i) => (i === 0 ? { ...w, name: 'skin' } : w));
    expect(changeWords(compareWalls(CATALOGUE, outer, now(renamed)))).toBe(`"${ins(outer)[0].name}" is called "skin".`);
    expect(shown(renamed)).toEqual(shown(p));
    const gone = compareWalls(CATALOGUE, outer, now(withWays((w, i) => (i === 0 ? undefined : w))));
    expect(gone.breaks).toEqual([`The way in "${ins(outer)[0].name}" is gone.`]);
    const other = compareWalls(CATALOGUE, outer, now(withWays((w) => ({ ...w, kind: 'curves', unit: 'm' }))));
    expect(other.breaks.length).toBeGreaterThanOrEqual(2);
  });

  test('published, uses are of that version; an older one goes on beside it, until it is let go', () => {
    const { project: p, outer, use } = nested();
    const v1 = published(moduleKey(outer), 1000)(p);
    expect(v1.graphs[0].nodes.find((n) => n.id === use)?.type).toBe(`module:${outer.id}@1000`);
    expect(shown(v1)).toEqual(shown(p));
    const file = moduleFile(
      v1,
      v1.modules.find((m) => m.id === outer.id)!,
      '',
      '',
    );
    // A change, published as another version, in a project where one use stays with the first.
    const inside = insideOf(use);
    const offset = graphAt(v1, inside)!.nodes.find((n) => n.id.endsWith('/offset'))!;
    const edited = exposeInput(catalogueOf(CATALOGUE, v1), inside, { node: offset.id, port: 'c' })(v1);
    expect(edited.modules.find((m) => m.id === outer.id)?.edited).toBe(true);
    const v2 = published(`${outer.id}@1000`, 1001)(edited);
    const both = takeIn(v2, file);
    expect(
      both.project.modules
        .filter((m) => m.id === outer.id)
        .map((m) => m.version)
        .sort(),
    ).toEqual([1000, 1001]);
    const back = ofVersion(`${outer.id}@1001`, both.module, { graph: 'graph', node: use })(both.project);
    expect(back.graphs[0].nodes.find((n) => n.id === use)?.type).toBe(`module:${outer.id}@1000`);
    expect(shown(back)).toEqual(shown(p));
    expect(back.modules.filter((m) => m.id === outer.id).map((m) => m.version)).toEqual([1000]);
  });

  test('equal content has equal hashes, wherever cards lie', () => {
    const { project: p, outer, use } = nested();
    const own = ownCopy('graph', use, outer.name)(p);
    const copy = own.modules.at(-1)!;
    expect(copy.id).not.toBe(outer.id);
    expect(moduleHash(own, copy)).toBe(moduleHash(p, outer));
    const moved = {
      ...outer,
      graph: { ...outer.graph, nodes: outer.graph.nodes.map((n) => ({ ...n, position: [0, 0] as const })) },
    };
    expect(moduleHash(p, moved)).toBe(moduleHash(p, outer));
    expect(moduleHash(p, { ...outer, summary: 'x' })).not.toBe(moduleHash(p, outer));
    expect(circleThrough(p, moduleKey(p.modules[0]), moduleKey(outer))).toEqual(['Nearness', 'Swell', 'Nearness']);
    expect(circleThrough(p, moduleKey(outer), moduleKey(p.modules[0]))).toBeUndefined();
  });
});

test('modules that stand in one another too deep are refused for that, whatever order they are listed in', () => {
  const { project: p, inner } = nested();
  const nest = (depth: number) => {
    const all: ModuleRecord[] = [{ ...inner, graph: { ...inner.graph, nodes: [] } }];
    for (let i = 1; i < depth; i++) {
      const use = { ...inner.graph.nodes[0], id: 'use', type: typeOfUse(all[i - 1]) };
      all.push({ ...inner, id: `m${i}`, name: `Nest ${i}`, graph: { ...inner.graph, id: `g${i}`, nodes: [use], wires: [] } });
    }
    return all;
  };
  const read = (depth: number, order: (all: ModuleRecord[]) => ModuleRecord[]) => {
    const all = nest(depth);
    const file = { ...moduleFile(p, inner, '', ''), module: all[depth - 1], inside: order(all.slice(0, -1)) };
    return () => readModuleFile(JSON.stringify(file));
  };
  for (const order of [(all: ModuleRecord[]) => all, (all: ModuleRecord[]) => [...all].reverse()]) {
    expect(read(60, order)).toThrow('stand in one another 60 deep; 32 is the most');
    expect(read(33, order)).toThrow('33 deep');
    expect(read(32, order)().inside).toHaveLength(31);
  }
});

test('an update to a version without a way tells all that stands there, takes nothing away, and a later one has it again', () => {
  const { project: p, outer, use } = nested();
  const distance = ins(outer).find((w) => w.kind !== 'geometry' && w.kind !== 'mesh')!;
  const without: ModuleRecord = {
    ...outer,
    version: 2000,
    graph: {
      ...outer.graph,
      id: 'inside-2',
      nodes: outer.graph.nodes.map((n) =>
        n.type === 'way-in' ? { ...n, settings: { ...n.settings, ways: { ways: ins(outer).filter((w) => w !== distance) } } } : n,
      ),
    },
  };
  const [g] = p.graphs;
  const wired = p.graphs[0].wires.some((w) => w.to.node === use && w.to.port === distance.id);
  const keyed = setInput(g.id, use, distance.id, { keys: trackOf([makeKey(1, 2), makeKey(9, 3)]) })(p);
  const handed: Project = {
    ...keyed,
    handOut: { pages: [{ id: 'p', name: 'Body', parts: [{ kind: 'dials', node: use, dials: [distance.id], name: '' }] }] },
    poses: [{ id: 'q', name: 'Puffed', picture: null, values: { objects: {}, dials: { [use]: { [distance.id]: 1 } } } }],
  };
  const lost = lostWith(CATALOGUE, handed, outer, without);
  const where = `"${distance.name}" of Swell in graph: `;
  expect(lost).toEqual([
    ...(wired ? [expect.stringMatching(/: the wire from /)] : []),
    `${where}2 keys.`,
    `${where}its place on the page "Body".`,
    `${where}its value in the pose "Puffed".`,
  ]);
  // A way out that is gone: the wire from it is told.
  const closed = {
    ...outer,
    version: 2002,
    graph: {
      ...outer.graph,
      nodes: outer.graph.nodes.map((n) => (n.type === 'way-out' ? { ...n, settings: { ...n.settings, ways: { ways: [] } } } : n)),
    },
  };
  expect(lostWith(CATALOGUE, handed, outer, closed)).toEqual([expect.stringMatching(/of Swell in graph: 1 wire from it\.$/)]);
  expect(lostWith(CATALOGUE, handed, outer, { ...outer, version: 1001 })).toEqual([]);
  expect(lostWith(CATALOGUE, handed, outer, without, { graph: g.id, node: 'another' })).toEqual([]);
  const both = { ...handed, modules: [...handed.modules, without] };
  const there = ofVersion(moduleKey(outer), without)(both);
  const again = { ...outer, version: 2001 };
  const back = ofVersion(moduleKey(without), again)({ ...there, modules: [...there.modules, again] });
  expect(back.graphs[0].wires).toEqual(handed.graphs[0].wires);
  expect(back.graphs[0].nodes.find((n) => n.id === use)?.inputs).toEqual(
    handed.graphs[0].nodes.find((n) => n.id === use)?.inputs,
  );
  expect(shown(back)).toEqual(shown(handed));
});

test('a place that is given to a module is no value spread over a column', () => {
  const { project: p, use } = nested();
  const [g] = p.graphs;
  const types = catalogueOf(CATALOGUE, p);
  const notes = g.wires
    .filter((w) => w.to.node === use)
    .map((w) => wireNote(types, g, w, { form: 'single', kind: 'vector', makesMany: true }));
  expect(notes.length).toBeGreaterThan(1);
  expect(notes.every((n) => n === undefined)).toBe(true);
});

test('uses of other versions are told: an update leaves them alone', () => {
  const { project: p, outer, use } = nested();
  const [g] = p.graphs;
  const older = { ...outer, version: 1000 };
  const second = { ...g.nodes.find((n) => n.id === use)!, id: 'second', type: typeOfUse(older) };
  const mixed = { ...p, modules: [...p.modules, older], graphs: [{ ...g, nodes: [...g.nodes, second] }] };
  const newest = { ...outer, version: 2000, graph: { ...outer.graph, id: 'inside-2' } };
  const after = ofVersion(moduleKey(outer), newest)({ ...mixed, modules: [...mixed.modules, newest] });
  expect(otherVersions(after, newest)).toEqual([{ version: 1000, uses: 1 }]);
  expect(otherVersions(p, outer)).toEqual([]);
});

test('uses that would lose a way are named', () => {
  const { project: p, outer } = nested();
  const [wired] = ins(outer);
  expect(usesOfWay(p, moduleKey(outer), wired.id)).toEqual(['Swell in graph']);
  expect(usesOfWay(p, moduleKey(outer), 'nothing')).toEqual([]);
});

test('modules that nothing uses are left out, those inside of used ones are not', () => {
  const { project: p, outer, inner } = nested();
  expect(withoutUnusedModules(p)).toBe(p);
  const [g] = p.graphs;
  const without = { ...p, graphs: [{ ...g, nodes: g.nodes.filter((n) => n.type !== typeOfUse(outer)) }] };
  expect(withoutUnusedModules(without).modules).toEqual([]);
  const innerOnly = {
    ...p,
    graphs: [{ ...g, nodes: g.nodes.map((n) => (n.type === typeOfUse(outer) ? { ...n, type: typeOfUse(inner) } : n)) }],
  };
  expect(withoutUnusedModules(innerOnly).modules).toEqual([inner]);
});

test('what another version of a module moves is told by result, with the farthest point', () => {
  const { project: p, outer, use } = nested();
  const assets = new Map([['mesh', makeSphere(1, 6, 8)]]);
  expect(movesBetween(p, p, assets, 3)).toEqual([]);
  const offset = graphAt(p, insideOf(use))!.nodes.find((n) => n.id.endsWith('/offset'))!;
  // A height of 0.3 m at full response, twice as much.
  const more = setInput(insideOf(use), offset.id, 'c', 0.6)(p);
  const [move, ...others] = movesBetween(p, more, assets, 3);
  expect(others).toEqual([]);
  const [a, b] = [shown(p), shown(more)];
  const far = a
    .map((_, i) => i)
    .filter((i) => i % 3 === 0)
    .map((i) => Math.hypot(a[i] - b[i], a[i + 1] - b[i + 1], a[i + 2] - b[i + 2]));
  expect(move.most).toBeCloseTo(Math.max(...far), 6);
  expect(far[move.point]).toBeCloseTo(move.most!, 6);
  const gone = { ...p, graphs: [{ ...p.graphs[0], nodes: p.graphs[0].nodes.filter((n) => n.id !== 'show') }] };
  expect(movesBetween(p, gone, assets, 3)).toEqual([{ name: 'Fish', most: undefined, point: 0 }]);
  expect(outer.name).toBe('Swell');
});
