import { describe, expect, test } from 'vitest';
import { randomFrom } from '../maths/random.ts';
import { graph, node, project as projectOf } from '../testing/build.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { resolveGraph } from '../graph/network/resolve.ts';
import { differenceOf, withDifference } from './difference.ts';
import { makeObject } from './kinds/index.ts';
import { makeProject, type Project } from './schema.ts';

/** What a worker gets: a copy, that shares nothing with the page. */
const sent = <T>(value: T): T => structuredClone(value);

describe('the difference of two projects', () => {
  test('a locator that is dragged travels as one object, and no graph is resolved again', () => {
    const nodes = Array.from({ length: 2000 }, (_, i) => node(`n${i}`, 'number'));
    const objects = Array.from({ length: 500 }, (_, i) => makeObject(`o${i}`, `Locator ${i}`, 'locator'));
    const before: Project = { ...projectOf([graph(nodes, [])]), objects };
    const there = sent(before);
    const resolved = resolveGraph(CATALOGUE, there.graphs[0]);
    let [page, worker] = [before, there];
    for (let x = 1; x < 5; x++) {
      const moved: Project = {
        ...page,
        objects: page.objects.map((o) =>
          o.id === 'o77' ? { ...o, channels: { ...o.channels, translate: [x, 0, 0] as const } } : o,
        ),
      };
      const difference = differenceOf(page, moved);
      expect(difference).toMatchObject({ fields: {}, objects: { records: [{ id: 'o77' }] } });
      expect(difference.objects?.records).toHaveLength(1);
      expect([difference.graphs, difference.objects?.order]).toEqual([undefined, undefined]);
      worker = withDifference(worker, sent(difference));
      page = moved;
      expect(worker).toEqual(page);
      expect(worker.graphs).toBe(there.graphs);
      expect(resolveGraph(CATALOGUE, worker.graphs[0])).toBe(resolved);
      expect(worker.objects[5]).toBe(there.objects[5]);
    }
  });

  test('whatever is changed, added, removed or put elsewhere: the same project arrives, and keeps what did not change', () => {
    const random = randomFrom(11);
    const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)];
    let fresh = 0;
    const shuffled = <T>(list: readonly T[]) =>
      [...list]
        .map((v) => [random(), v] as const)
        .sort((a, b) => a[0] - b[0])
        .map(([, v]) => v);
    /** A list with one of five things done to it. */
    const changed = <T extends { id: string }>(
      list: readonly T[],
      make: (id: string) => T,
      edit: (record: T) => T,
    ): readonly T[] => {
      const which = Math.floor(random() * 5);
      if (which === 0) return [...list, make(`new${fresh++}`)];
      if (which === 1) return list.filter((r) => r !== pick(list));
      if (which === 2) return shuffled(list);
      if (which === 3) return [make(`new${fresh++}`), ...list.slice(1)];
      const one = pick(list);
      return list.map((r) => (r === one ? edit(r) : r));
    };
    const first = graph(
      [node('a', 'number'), node('b', 'arithmetic'), node('c', 'arithmetic')],
      ['a.value > b.a', 'b.result > c.a'],
    );
    const edits: ((p: Project) => Project)[] = [
      (p) => ({ ...p, name: `P${fresh++}`, range: { first: 1, last: 10 + fresh } }),
      (p) => ({
        ...p,
        objects: changed(
          p.objects,
          (id) => makeObject(id, id, 'locator'),
          (o) => ({ ...o, name: `${o.name}'` }),
        ),
      }),
      (p) => ({
        ...p,
        graphs: changed(
          p.graphs,
          (id) => ({ ...first, id }),
          (g) => ({ ...g, name: `${g.name}'` }),
        ),
      }),
      (p) => ({
        ...p,
        graphs: p.graphs.map((g, i) =>
          i > 0
            ? g
            : {
                ...g,
                nodes: changed(
                  g.nodes,
                  (id) => node(id, 'number'),
                  (n) => ({ ...n, title: 'T' }),
                ),
                wires: shuffled(g.wires),
              },
        ),
      }),
    ];
    for (let round = 0; round < 40; round++) {
      let page: Project = {
        ...makeProject('p', 'P'),
        graphs: [first, { ...first, id: 'g2' }],
        objects: [makeObject('x', 'X', 'group'), makeObject('y', 'Y', 'group')],
      };
      let worker = sent(page);
      for (let step = 0; step < 12; step++) {
        let next = page;
        for (let k = Math.floor(random() * 3); k >= 0; k--) next = pick(edits)(next);
        const was = worker;
        worker = withDifference(worker, sent(differenceOf(page, next)));
        expect(worker).toEqual(next);
        // A record that is the same on the page is the same here.
        next.objects.forEach((o, i) => {
          const at = page.objects.indexOf(o);
          if (at >= 0) expect(worker.objects[i]).toBe(was.objects[at]);
        });
        page = next;
      }
    }
  });

  test('nothing changed is nothing sent; another project’s difference is refused', () => {
    const p: Project = { ...makeProject('p', 'P'), graphs: [graph([node('a', 'number')], [])] };
    expect(differenceOf(p, p)).toEqual({ fields: {} });
    const other = { ...p, graphs: [{ ...p.graphs[0], name: 'Other' }] };
    expect(() => withDifference(makeProject('q', 'Q'), differenceOf(p, other))).toThrow('cannot be followed');
  });

  test('records that share an id are sent as they are', () => {
    const twice = [makeObject('o', 'One', 'locator'), makeObject('o', 'Two', 'locator')];
    const before: Project = {
      ...makeProject('p', 'P'),
      objects: twice,
      graphs: [graph([node('a', 'number'), node('a', 'clock')], [])],
    };
    const after: Project = {
      ...before,
      objects: [twice[0], { ...twice[1], name: 'Three' }],
      graphs: [{ ...before.graphs[0], nodes: [...before.graphs[0].nodes].reverse() }, before.graphs[0]],
    };
    expect(withDifference(sent(before), sent(differenceOf(before, after)))).toEqual(after);
  });
});
