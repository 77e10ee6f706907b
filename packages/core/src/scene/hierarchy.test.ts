import fc from 'fast-check';
import { expect, test } from 'vitest';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { hierarchyOf, membersOf, visibleIds } from './hierarchy.ts';
import { worldLookup, worldMatrix } from './world.ts';
import { objectsById } from './objects.ts';

/** Objects that hang under any other, under themselves, or under what is not there. */
const scenes = fc
  .array(fc.tuple(fc.integer({ min: -2, max: 12 }), fc.boolean(), fc.integer({ min: -3, max: 3 })), {
    maxLength: 12,
  })
  .map((all) =>
    all.map(([under, visible, x], i): ObjectRecord => {
      const made = makeObject(`o${i}`, `O${i}`, 'group', {
        parent: under < -1 ? 'gone' : under < 0 ? null : `o${under}`,
        visible,
      });
      const channels = {
        ...made.channels,
        translate: [x, i, 0] as const,
        rotate: [0, 30 * x, 10] as const,
        scale: [1, x, 2] as const,
      };
      return {
        ...made,
        channels,
        rest: { ...channels, translate: [0, x, 0] },
        carrier: i % 3 === 0 ? [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, 0, 1, 1] : null,
      };
    }),
  );

/** What an object hangs under, one after the other, until nothing more or a loop. */
function above(objects: readonly ObjectRecord[], id: string): ObjectRecord[] {
  const found: ObjectRecord[] = [];
  for (let at = objects.find((o) => o.id === id); at && !found.includes(at);) {
    found.push(at);
    const { parent } = at;
    at = objects.find((o) => o.id === parent);
  }
  return found;
}

test('every object is listed once, right behind what it hangs under or a sibling, whatever hangs where', () => {
  fc.assert(
    fc.property(scenes, (objects) => {
      const rows = hierarchyOf(objects);
      expect(new Set(rows.map((r) => r.object)).size).toBe(objects.length);
      expect(rows.length).toBe(objects.length);
      rows.forEach(({ object, level }, i) => {
        if (level === 0) return;
        const parent = rows.slice(0, i).findLast((r) => r.level === level - 1);
        expect(parent?.object.id).toBe(object.parent);
      });
    }),
  );
});

test('members and what is visible are those found by going up from each object', () => {
  fc.assert(
    fc.property(scenes, (objects) => {
      for (const o of objects) {
        const under = objects.filter(
          (x) => above(objects, x.id).slice(1).includes(o) || (x === o && above(objects, x.id).some((u) => u.parent === o.id)),
        );
        expect(membersOf(objects, o.id)).toEqual(under);
      }
      const isLooped = (o: ObjectRecord) => above(objects, o.id).some((u) => above(objects, u.id).at(-1)?.parent === u.id);
      for (const o of objects) {
        if (isLooped(o)) continue;
        expect(visibleIds(objects).has(o.id)).toBe(above(objects, o.id).every((u) => u.visible));
      }
    }),
  );
});

test('matrices looked up are those worked out one by one, in any order, loops and gaps included', () => {
  fc.assert(
    fc.property(scenes, fc.boolean(), (objects, backwards) => {
      const byId = objectsById(objects);
      for (const at of ['channels', 'rest'] as const) {
        const lookup = worldLookup(byId, at);
        for (const { id } of backwards ? [...objects].reverse() : objects) {
          const [a, b] = [lookup(id), worldMatrix(byId, id, at)];
          const size = Math.max(1, ...b.map(Math.abs));
          a.forEach((v, k) => expect(Math.abs(v - b[k])).toBeLessThan(1e-9 * size));
        }
      }
    }),
  );
  expect(worldLookup(objectsById([]))('gone')).toEqual(worldMatrix(objectsById([]), 'gone'));
});

test('a chain of 20,000 is listed and looked up without going up from each', () => {
  const chain = Array.from({ length: 20_000 }, (_, i) =>
    makeObject(`o${i}`, 'Link', 'group', { parent: i === 0 ? null : `o${i - 1}` }),
  );
  expect(hierarchyOf(chain).at(-1)?.level).toBe(19_999);
  expect(visibleIds(chain).size).toBe(20_000);
  const lookup = worldLookup(objectsById(chain));
  chain.forEach((o) => expect(lookup(o.id)[0]).toBe(1));
});
