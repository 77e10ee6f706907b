import { meshId } from '../geometry/mesh-id.ts';
import { CATALOGUE } from '../nodes/index.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Attribute } from '../geometry/attributes.ts';
import { makeGrid } from '../geometry/primitives.ts';
import { makeBox } from '../geometry/solids.ts';
import { withAttribute, withPositions, type Mesh } from '../geometry/mesh.ts';
import { project, swell, node, graph } from '../testing/build.ts';
import { checkProject } from '../graph/readouts/check.ts';
import { ProjectFileError, readProjectDocument, readProjectFile, writeProjectFile } from './file.ts';
import { withOwnIds } from './own-ids.ts';
import { CHANNEL_LIMIT, objectsAt, wrongChannels } from '../scene/channels.ts';
import { makeKey, trackOf } from '../scene/keys.ts';
import { meshFromData, meshToArrays, meshToData } from './mesh-data.ts';
import { migrate } from './migrations.ts';
import { makeObject, type ObjectRecord } from './kinds/index.ts';
import { USUAL_SIDES } from './animation.ts';
import { type Project } from './schema.ts';

const colours = {
  name: 'colour',
  on: 'face' as const,
  type: 'vector' as const,
  role: 'plain' as const,
  data: Float32Array.from({ length: 12 }, (_, i) => i),
};
const mesh = withAttribute(
  { ...makeGrid([1, 1], [2, 2]), materials: [{ name: 'Tar', baseColour: [0.1, 0.1, 0.1] }], groups: ['all'] },
  colours,
);
const assets = new Map([['mesh', mesh]]);
const text = writeProjectFile(project([swell()]), assets);

const refusal = (content: string) => {
  try {
    readProjectFile(content);
  } catch (e) {
    if (e instanceof ProjectFileError) return e.message;
    throw e;
  }
  return undefined;
};

describe('project files', () => {
  test('come back as they were, meshes to the bit, and write the same text again', () => {
    const opened = readProjectFile(text);
    expect(opened.project).toEqual(project([swell()]));
    expect(opened.repairs).toEqual([]);
    expect(writeProjectFile(opened.project, opened.assets)).toBe(text);
    const back = meshFromData(meshToData(mesh));
    expect(meshId(back)).toBe(meshId(mesh));
    expect(back.materials).toEqual(mesh.materials);
    expect(meshId(makeGrid([1, 1.0001], [2, 2]))).not.toBe(meshId(makeGrid([1, 1], [2, 2])));
  });

  test('are refused with one sentence and the place', () => {
    expect(refusal('{"a":')).toContain('not JSON');
    expect(refusal('[]')).toContain('not an Umberfish project');
    expect(refusal('{"format":"umberfish-project"}')).toContain('no project version');
    expect(refusal(text.replace(/^ "version": \d+/m, ' "version": 99'))).toContain('newer Umberfish');
    expect(refusal(text.replace('"frameRate": 24', '"frameRate": "fast"'))).toMatch(/^project\.frameRate: /);
    expect(refusal(text.replace(/"base64": "[^"]{8}/, '"base64": "!!!!!!!!'))).toContain('base64');
    const broken = JSON.parse(text) as { meshes: { mesh: { cornerPoints: unknown } } };
    broken.meshes.mesh.cornerPoints = { type: 'int32', base64: '//////////8=' };
    expect(refusal(JSON.stringify(broken))).toMatch(/meshes\.mesh \("Mesh"\)/);
  });

  test('wires and parents that lead nowhere are put right and told; unknown node types are kept', () => {
    const p = project([
      {
        ...swell(),
        nodes: [...swell().nodes.filter((n) => n.id !== 'ratio'), node('future', 'time-machine', { settings: { dial: 3 } })],
      },
    ]);
    const odd: Project = {
      ...p,
      objects: [
        ...p.objects,
        makeObject('a', 'A', 'group', { parent: 'b' }),
        makeObject('b', 'B', 'group', { parent: 'a' }),
        makeObject('c', 'C', 'group', { parent: 'z' }),
      ],
    };
    const opened = readProjectFile(writeProjectFile(odd, assets));
    expect(opened.repairs.join(' ')).toContain('2 wires in "graph" led nowhere');
    expect(opened.repairs.join(' ')).toContain('The parent of "C" is missing');
    expect(opened.project.objects.find((o) => o.id === 'c')?.parent).toBeNull();
    expect(opened.project.graphs[0].nodes.find((n) => n.id === 'future')?.settings).toEqual({ dial: 3 });
    expect(readProjectFile(writeProjectFile(p, new Map())).repairs.join(' ')).toContain('The mesh "Mesh" is missing');
  });

  test('any damage is refused in words or opened whole, never half read', () => {
    fc.assert(
      fc.property(fc.nat(text.length - 1), fc.nat(40), fc.string({ maxLength: 6 }), (at, cut, put) => {
        const damaged = text.slice(0, at) + put + text.slice(at + cut);
        if (refusal(damaged) === undefined) expect(readProjectFile(damaged).project.graphs.length).toBe(1);
      }),
      { numRuns: 400 },
    );
    fc.assert(fc.property(fc.jsonValue(), (v) => void refusal(JSON.stringify(v))));
    const keys = fc.constantFrom('objects', 'graphs', 'assets', 'range', 'name', 'meshes', 'frameRate');
    fc.assert(
      fc.property(keys, fc.jsonValue(), (key, v) => void refusal(JSON.stringify({ ...(JSON.parse(text) as object), [key]: v }))),
      { numRuns: 400 },
    );
    fc.assert(
      fc.property(fc.anything(), (v) => {
        try {
          readProjectDocument(v);
        } catch (e) {
          expect(e).toBeInstanceOf(ProjectFileError);
        }
      }),
    );
  });

  test('what has the id of another gets one of its own, and what named it goes on meaning the first', () => {
    const twice = project([swell(), { ...swell(), name: 'again' }]);
    const first = { ...twice.graphs[0], nodes: [...twice.graphs[0].nodes, { ...twice.graphs[0].nodes[0] }] };
    const doubled = { ...twice, objects: [...twice.objects, twice.objects[0]], graphs: [first, twice.graphs[1]] };
    const { project: read, repairs } = readProjectFile(`\uFEFF${writeProjectFile(doubled, new Map())}`);
    const nodes = read.graphs.flatMap((g) => g.nodes.map((n) => n.id));
    expect(new Set(nodes).size).toBe(doubled.graphs.flatMap((g) => g.nodes).length);
    expect(new Set(read.graphs.map((g) => g.id)).size).toBe(2);
    expect(new Set(read.objects.map((o) => o.id)).size).toBe(doubled.objects.length);
    expect(read.graphs[0].wires).toEqual(first.wires);
    // The second graph is wired as the first, between nodes of its own.
    expect(read.graphs[1].wires).toHaveLength(first.wires.length);
    for (const w of read.graphs[1].wires) {
      const mine = read.graphs[1].nodes.map((n) => n.id);
      expect(mine).toContain(w.from.node);
      expect(mine).toContain(w.to.node);
    }
    expect(repairs.join(' ')).toContain('The id "fish" was there twice');
    expect(readProjectFile(writeProjectFile(read, new Map())).repairs.filter((r) => r.includes('twice'))).toEqual([]);
  });

  test('ids that are made are the next that are free; a removed object gives way to the one that is there', () => {
    const of = (id: string) => makeObject(id, id, 'locator');
    const p = { ...project([]), objects: ['a', 'a', 'a-2', 'a', 'b', 'a'].map(of) };
    const removed = ['b', 'c'].map((id) => ({ object: of(id), frames: null }) as never);
    const repairs: string[] = [];
    const own = withOwnIds({ ...p, removed }, repairs);
    expect(own.objects.map((o) => o.id)).toEqual(['a', 'a-2', 'a-2-2', 'a-3', 'b', 'a-4']);
    expect(own.removed.map((r) => r.object.id)).toEqual(['c']);
    expect(repairs).toHaveLength(5);
  });

  test('faces with a material that is not in the list have none, and that is told', () => {
    const mesh = makeGrid([1, 1], [2, 1]);
    const data = Int32Array.of(0, 7);
    const material = { name: 'material', on: 'face', type: 'integer', role: 'plain', data } as const;
    const painted = { ...mesh, attributes: [material], materials: [{ name: 'paint', baseColour: [1, 0, 0] as const }] };
    const { assets, repairs } = readProjectFile(writeProjectFile(project([]), new Map([['mesh', painted as never]])));
    expect(Array.from(assets.get('mesh')?.attributes[0].data ?? [])).toEqual([0, -1]);
    expect(repairs.join()).toContain('materials that are not in its list');
  });

  test('older documents are migrated step by step', () => {
    const steps = {
      1: (d: Record<string, unknown>) => ({ ...d, a: 1 }),
      2: (d: Record<string, unknown>) => ({ ...d, b: Number(d.a) + 1 }),
    };
    expect(migrate({ version: 1 }, steps, 3)).toEqual({ version: 3, a: 1, b: 2 });
    expect(() => migrate({ version: 1 }, {}, 2)).toThrow('can no longer be read');
    expect(() => migrate({ version: '1' })).toThrow('no project version');
    const first = { version: 1, graphs: [{ id: 'g', wires: [{ id: 'w' }] }], objects: [{ id: 'o' }, 3] };
    expect(migrate(first)).toEqual({
      version: 12,
      removed: [],
      modules: [],
      graphs: [{ id: 'g', sections: [], nodes: undefined, wires: [{ id: 'w', pins: [] }] }],
      objects: [{ id: 'o', custom: [], animated: {}, locked: [], hidden: [], pickable: true }, 3],
      views: [],
      handOut: null,
      poses: [],
      sides: USUAL_SIDES,
      forAnimation: false,
    });
    const old = migrate({
      version: 8,
      objects: [{ type: 'locator' }, { type: 'mesh' }],
      removed: [{ object: { type: 'locator' } }],
    });
    expect(old).toMatchObject({
      objects: [{ type: 'locator', control: null }, { type: 'mesh' }],
      removed: [{ object: { type: 'locator', control: null } }],
    });
  });

  test('objects of format 6, which had the fields of every kind, keep those of theirs', () => {
    const nothing = { mesh: null, sets: [], colour: null, curve: null, restCurve: null };
    const set = { name: 'tip', points: [3] };
    const drawn = { splines: [{ type: 'poly', closed: true, points: [] }] };
    const olds: [Record<string, unknown>, ObjectRecord][] = [
      [nothing, makeObject('a', 'A', 'group')],
      [
        { ...nothing, mesh: 'mesh', sets: [set], colour: [1, 0, 0] },
        makeObject('b', 'B', 'mesh', { mesh: 'mesh', sets: [set], colour: [1, 0, 0] }),
      ],
      [
        { ...nothing, curve: drawn, restCurve: drawn },
        makeObject('c', 'C', 'curve', { curve: drawn, restCurve: drawn } as never),
      ],
      [nothing, makeObject('d', 'D', 'curve')],
      [nothing, makeObject('e', 'E', 'mesh')],
    ];
    const written = (o: ObjectRecord, old: object) => ({ ...o, ...old });
    const before = { ...project([swell()]), version: 6 };
    const document = {
      ...before,
      objects: olds.map(([old, now]) => written(now, old)),
      removed: [{ object: written(makeObject('gone', 'Gone', 'locator'), nothing), frames: null }],
    };
    const { project: read, repairs } = readProjectDocument(JSON.parse(JSON.stringify(document)));
    expect(repairs).toEqual([]);
    expect(read.objects).toEqual(olds.map(([, now]) => now));
    expect(read.removed[0].object).toEqual(makeObject('gone', 'Gone', 'locator'));
    // What nothing made, but a file may have: a carried thing with a mesh does not lose it.
    const odd = { ...before, objects: [written(makeObject('p', 'P', 'prop'), { ...nothing, mesh: 'mesh' })] };
    expect(readProjectDocument(JSON.parse(JSON.stringify(odd))).project.objects).toEqual([
      makeObject('p', 'P', 'mesh', { mesh: 'mesh' }),
    ]);
  });

  test('keys that are not in order are put in order, with a word, wherever they are', () => {
    const key = (frame: number, value: number) => ({ frame, value, in: [-1, 0], out: [1, 0], shape: 'straight', tied: true });
    const keys = (...k: object[]) => ({ keys: { keys: k, before: 'hold', after: 'hold' } });
    const mixed = keys(key(10, 1), key(1, 0), key(10, 5), key(4, 2));
    const p = project([
      graph(
        [
          node('n', 'number', { inputs: { value: mixed as never } }),
          node('v', 'vector', { inputs: { value: [0, mixed, 1] as never } }),
        ],
        [],
      ),
    ]);
    const document = {
      ...p,
      objects: p.objects.map((o) => (o.id === 'here' ? { ...o, animated: { 'translate.y': mixed } } : o)),
    };
    const { project: read, repairs } = readProjectDocument(JSON.parse(JSON.stringify(document)));
    expect(repairs).toEqual([
      'Keys of "Here", move y, were not in the order of their frames; they are now. Of several at one frame the last was kept; 1 was left out.',
      'Keys of "number", value, were not in the order of their frames; they are now. Of several at one frame the last was kept; 1 was left out.',
      'Keys of "vector", value, were not in the order of their frames; they are now. Of several at one frame the last was kept; 1 was left out.',
    ]);
    const at = (frame: number) => objectsAt(read, frame).get('here')?.channels.translate[1];
    expect([at(1), at(4), at(7), at(10)]).toEqual([0, 2, 3.5, 5]);
    // What is in order stays what it is.
    expect(readProjectDocument(JSON.parse(JSON.stringify(read))).repairs).toEqual([]);
  });

  test('a check lists what is wrong, by place', () => {
    const opened = (p: Project) => ({ project: p, assets, repairs: [] });
    expect(checkProject(CATALOGUE, opened(project([swell()])))).toEqual([]);
    const wrong = checkProject(CATALOGUE, opened({ ...project([swell({ expression: 'sin(' })]), range: { first: 5, last: 1 } }));
    expect(wrong.map((f) => f.severity)).toEqual(['error', 'error']);
    expect(wrong[1].where).toBe('graph / Arithmetic');
    expect(checkProject(CATALOGUE, opened(project([graph([node('show', 'show-mesh')], [])])))[0].message).toContain(
      '"mesh" needs a mesh',
    );
  });
});

test('the id of a mesh is of all that is in it', () => {
  const box = makeBox([1, 1, 1], [1, 1, 1]);
  const tint: Attribute = {
    name: 'tint',
    on: 'point',
    type: 'vector',
    role: 'plain',
    data: new Float32Array(24),
  };
  const material = (name: string, red: number) => ({ name, baseColour: [red, 0, 0] as const });
  const named = { ...withAttribute(box, tint), materials: [material('Oak', 1)], groups: ['lid'] };
  const changed: Mesh[] = [
    box,
    named,
    withPositions(
      named,
      named.positions.map((v) => v + 1),
    ),
    { ...named, attributes: [{ ...tint, name: 'Tint' }] },
    { ...named, attributes: [{ ...tint, role: 'direction' }] },
    { ...named, attributes: [{ ...tint, type: 'colour' }] },
    { ...named, attributes: [{ ...tint, data: new Float32Array(24).fill(1) }] },
    { ...named, materials: [material('Oak', 0.5)] },
    { ...named, materials: [material('Iron', 1)] },
    { ...named, materials: [] },
    { ...named, groups: ['lid 灯'] },
    { ...named, groups: [] },
  ];
  expect(new Set(changed.map(meshId)).size).toBe(changed.length);
  for (const mesh of changed)
    for (const data of [meshToData(mesh), structuredClone(meshToArrays(mesh))])
      expect(meshId(meshFromData(data))).toBe(meshId(mesh));
});

test('channels that cannot be drawn are taken back to what can, keyed and computed ones stand aside; both are told', () => {
  const far = {
    ...project([]),
    objects: [
      makeObject('a', 'Buoy', 'locator', {
        channels: { translate: [1e308, 2, -1e13], rotate: [0, 0, 0], order: 'xyz', scale: [1, 1, 1] },
        animated: { 'translate.y': { expression: '1e300 * 10' }, 'rotate.x': { keys: trackOf([makeKey(1, 1e200)]) } },
      }),
    ],
  };
  const { project: read, repairs } = readProjectFile(writeProjectFile(far, new Map()));
  expect(read.objects[0].channels.translate).toEqual([CHANNEL_LIMIT, 2, -CHANNEL_LIMIT]);
  expect(repairs.join(' ')).toMatch(/"Buoy" had numbers beyond .* in move x, move z/);
  const now = objectsAt(read, 1).get('a')!;
  expect([now.channels.translate[1], now.channels.rotate[0]]).toEqual([2, 0]);
  const told = wrongChannels(read, [1]).map((w) => w.message);
  expect(told).toEqual([
    expect.stringMatching(/^move y is 1e\+301 .* beyond/),
    expect.stringMatching(/^turn x is 1e\+200 .* beyond/),
  ]);
});
