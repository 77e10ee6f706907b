import { CATALOGUE } from '../../nodes/index.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeGrid, makeSphere } from '../../geometry/primitives.ts';
import { pointNormals } from '../../geometry/normals.ts';
import { makeMesh, type Mesh } from '../../geometry/mesh.ts';
import { compileResponse, respond, RESPONSE_PRESETS } from '../../maths/response.ts';
import { makeObject } from '../../project/kinds/index.ts';
import { type NodeRecord, type Project } from '../../project/schema.ts';
import { breathing, evaluatorOf, graph, meshOf, node, project, SHOWN, swell, wire } from '../../testing/build.ts';
import { shownResults } from '../network/shown.ts';
import { Cancelled, Evaluator, type Evaluation } from './evaluator.ts';
import { problemWords } from '../node/problems.ts';

const positions = (e: Evaluation, ref = SHOWN): Readonly<Float32Array> => {
  const v = e.value(ref);
  if (v?.form !== 'geometry') throw new Error('no geometry');
  return v.mesh.positions;
};
const codes = (e: Evaluation, id: string) => (e.reports.get(id)?.problems ?? []).map((p) => p.code);
const words = (e: Evaluation, id: string) => (e.reports.get(id)?.problems ?? []).map(problemWords).join(' ');
const sphere = makeSphere(1, 30, 40);

describe('the evaluator', () => {
  test('the swell graph gives what a plain loop gives', () => {
    const at: [number, number, number] = [0.3, 0.9, 0.1];
    const result = positions(evaluatorOf(sphere).evaluate({ project: project([swell()], at), frame: 1, wanted: [SHOWN] }));
    const normals = pointNormals(sphere);
    const curve = compileResponse(RESPONSE_PRESETS['Ease down']);
    for (let i = 0; i < result.length; i += 3) {
      const p = [0, 1, 2].map((k) => sphere.positions[i + k]);
      const d = Math.hypot(...p.map((v, k) => v - at[k]));
      p.forEach((v, k) => expect(result[i + k]).toBeCloseTo(v + normals[i + k] * 0.3 * respond(curve, d / 0.85), 5));
    }
  });

  test('moving the locator evaluates only what is downstream of it, again and again', () => {
    const evaluator = evaluatorOf(sphere);
    const run = (x: number) => evaluator.evaluate({ project: project([swell()], [x, 1, 0]), frame: 1, wanted: [SHOWN] }).computed;
    expect([...run(0)].sort()).toEqual(['distance', 'in', 'locator', 'move', 'offset', 'ratio', 'response', 'show', 'values']);
    const downstream = ['locator', 'distance', 'ratio', 'response', 'offset', 'move', 'show'];
    for (const x of [0.1, 0.2, 0.3]) expect(run(x)).toEqual(downstream);
    // All that takes time is kept; a locator's place is worked out again sooner than found.
    expect(run(0.2)).toEqual(['locator']);
  });

  test('nodes before what is kept are told of, whatever is asked for next', () => {
    const evaluator = evaluatorOf(sphere);
    const document = project([swell()], [0.1, 1, 0]);
    const away = project([swell()], [0.7, 1, 0]);
    const told = (p: Project, port: string) =>
      evaluator.evaluate({ project: p, frame: 1, wanted: [SHOWN, { node: 'values', port }] }).reports.get('locator')?.outputs
        .position.single;
    expect(told(document, 'positions')).toEqual([0.1, 1, 0]);
    expect(told(away, 'positions')).toEqual([0.7, 1, 0]);
    expect(told(document, 'normals')).toEqual([0.1, 1, 0]);
  });

  test('editing a number twice evaluates only what is downstream of it the second time', () => {
    const evaluator = evaluatorOf(sphere);
    const run = (height: number) =>
      evaluator.evaluate({ project: project([swell(0.85, height)]), frame: 1, wanted: [SHOWN] }).computed;
    run(0.1);
    run(0.2);
    expect(run(0.3)).toEqual(['offset', 'move', 'show']);
  });

  test('what is asked beside the picture does not spoil a drag: nothing is worked out that would not be without it', () => {
    const steps = (between: (evaluator: Evaluator, height: number) => void) => {
      const evaluator = evaluatorOf(makeSphere(1, 12, 12));
      return [0.1, 0.2, 0.3, 0.4].map((height) => {
        const { computed } = evaluator.evaluate({ project: project([swell(0.85, height)]), frame: 1, wanted: [SHOWN] });
        between(evaluator, height);
        return computed;
      });
    };
    const alone = steps(() => {});
    expect(alone[3].length).toBeLessThan(alone[0].length);
    for (const purpose of ['rest', 'history', 'pose', 'snapshot', 'compare', 'bake'] as const) {
      const beside = steps((evaluator, height) => {
        const moved = project([swell(0.85, height)], [0.3, 1, 0]);
        evaluator.evaluate({ project: moved, frame: 9, wanted: [SHOWN], purpose });
      });
      expect(beside, purpose).toEqual(alone);
    }
  });

  test('only what depends on time is evaluated for another frame, and a frame is the same whatever came before', () => {
    const evaluator = evaluatorOf(makeGrid([2, 2], [20, 20]));
    const at = (frame: number) => evaluator.evaluate({ project: project([breathing()]), frame, wanted: [SHOWN] });
    const first = Float32Array.from(positions(at(10)));
    const second = at(50);
    expect(second.computed).toEqual(['breath', 'noise', 'offset', 'move', 'show']);
    expect(positions(second)).not.toEqual(first);
    at(3);
    expect(positions(at(10))).toEqual(first);
    const fresh = evaluatorOf(makeGrid([2, 2], [20, 20])).evaluate({
      project: project([breathing()]),
      frame: 10,
      wanted: [SHOWN],
    });
    expect(positions(fresh)).toEqual(first);
  });

  test('asks for nothing that is not wanted', () => {
    const e = evaluatorOf(sphere).evaluate({
      project: project([swell(), breathing()].slice(0, 1)),
      frame: 1,
      wanted: [{ node: 'distance', port: 'result' }],
    });
    expect([...e.computed].sort()).toEqual(['distance', 'in', 'locator', 'values']);
    expect(e.reports.has('move')).toBe(false);
  });

  test('fused and unfused are the same to the bit, probes in the middle change nothing', () => {
    const kinds = ['arithmetic', 'measure', 'response', 'remap', 'direction', 'noise', 'build-vector', 'split-vector'] as const;
    const operations = ['add', 'subtract', 'multiply', 'divide', 'maximum', 'power', 'absolute', 'sine'];
    const link = fc.record({
      type: fc.constantFrom(...kinds),
      operation: fc.constantFrom(...operations),
      back: fc.nat(6),
      number: fc.double({ min: -2, max: 2, noNaN: true }),
      look: fc.boolean(),
    });
    const outputOf = (type: string) => ({ 'build-vector': 'vector', 'split-vector': 'y' })[type] ?? 'result';
    const inputOf = (type: string) =>
      ({
        'build-vector': 'x',
        'split-vector': 'vector',
        noise: 'position',
        response: 'value',
        remap: 'value',
      })[type] ?? 'a';
    const takesNumber = (type: string) => type === 'response' || type === 'build-vector';
    const mesh = makeSphere(1, 40, 41);
    fc.assert(
      fc.property(fc.array(link, { minLength: 1, maxLength: 10 }), (links) => {
        const nodes: NodeRecord[] = [node('in', 'scene-mesh', { settings: { object: 'fish' } }), node('values', 'point-values')];
        const wires = ['in.mesh > values.mesh'];
        const made: { ref: string; vector: boolean }[] = [
          { ref: 'values.positions', vector: true },
          { ref: 'values.normals', vector: true },
          { ref: 'values.indices', vector: false },
        ];
        const wanted: { node: string; port: string }[] = [];
        links.forEach((l, i) => {
          const fitting = takesNumber(l.type) ? made.filter((m) => !m.vector) : made;
          const from = fitting[Math.max(0, fitting.length - 1 - l.back)] ?? fitting[0];
          const id = `n${i}`;
          const settings: Record<string, string> = l.type === 'arithmetic' ? { operation: l.operation } : {};
          nodes.push(node(id, l.type, { settings, inputs: l.type === 'arithmetic' ? { b: l.number } : {} }));
          wires.push(`${from.ref} > ${id}.${inputOf(l.type)}`);
          const vector =
            l.type === 'direction' || l.type === 'build-vector' || (['arithmetic', 'remap'].includes(l.type) && from.vector);
          made.push({ ref: `${id}.${outputOf(l.type)}`, vector });
          if (l.look || i === links.length - 1) wanted.push({ node: id, port: outputOf(l.type) });
        });
        const p = project([graph(nodes, wires)]);
        const plain = evaluatorOf(mesh, { fuse: false }).evaluate({ project: p, frame: 1, wanted });
        const fused = evaluatorOf(mesh).evaluate({ project: p, frame: 1, wanted });
        const last = evaluatorOf(mesh).evaluate({ project: p, frame: 1, wanted: wanted.slice(-1) });
        const data = (e: Evaluation, w: { node: string; port: string }) => {
          const v = e.value(w);
          if (v?.form !== 'column') throw new Error(`${w.node} has no column: ${words(e, w.node)}`);
          // As bit patterns, so that −0 and 0, and one NaN and another, are told apart.
          return Array.from(new Uint32Array(v.data.buffer, v.data.byteOffset, v.data.length));
        };
        for (const w of wanted) expect(data(fused, w)).toEqual(data(plain, w));
        const end = wanted[wanted.length - 1];
        expect(data(last, end)).toEqual(data(plain, end));
      }),
      { numRuns: 60 },
    );
  });

  test('chains are told on the report with shared costs', () => {
    let clock = 0;
    const evaluator = evaluatorOf(sphere, { now: () => (clock += 0.25) });
    const e = evaluator.evaluate({ project: project([swell()]), frame: 1, wanted: [SHOWN] });
    expect(e.reports.get('ratio')?.chained).toBe(5);
    expect(e.reports.get('in')?.chained).toBe(1);
    expect(e.reports.get('ratio')?.costInMs).toBeGreaterThan(0);
  });

  test('an evaluation can be stopped at any checkpoint, and the next one is whole', () => {
    for (let stopAt = 1; stopAt < 12; stopAt++) {
      const evaluator = evaluatorOf(makeGrid([2, 2], [300, 300]));
      let calls = 0;
      const checkpoint = () => {
        if (++calls === stopAt) throw new Cancelled();
      };
      const request = { project: project([swell()]), frame: 1, wanted: [SHOWN] };
      expect(() => evaluator.evaluate({ ...request, checkpoint })).toThrow(Cancelled);
      expect(positions(evaluator.evaluate(request)).length).toBe(301 * 301 * 3);
    }
  });

  test('the budget bounds what is kept', () => {
    const evaluator = evaluatorOf(makeGrid([2, 2], [99, 99]), { cacheInBytes: 2e6 });
    for (let frame = 1; frame <= 60; frame++) {
      evaluator.evaluate({ project: project([breathing()]), frame, wanted: [SHOWN] });
      expect(evaluator.keptBytes).toBeLessThan(2.6e6);
    }
  });
});

describe('what is wrong stays where it is', () => {
  const run = (p: Project, wanted = [SHOWN], mesh: Mesh = sphere) => evaluatorOf(mesh).evaluate({ project: p, frame: 1, wanted });
  const withNodes = (change: (nodes: NodeRecord[]) => NodeRecord[], rewire: (wires: string[]) => string[] = (w) => w) => {
    const g = swell();
    return project([{ ...g, nodes: change([...g.nodes]), wires: rewire(g.wires.map((w) => w.id)).map(wire) }]);
  };
  const replace = (id: string, change: Partial<NodeRecord>) => (nodes: NodeRecord[]) =>
    nodes.map((n) => (n.id === id ? { ...n, ...change } : n));

  test('an expression with an error stops its node; the mesh goes through undeformed', () => {
    const e = run(withNodes(replace('ratio', { inputs: { b: { expression: '1 +' } } })));
    expect(codes(e, 'ratio')).toEqual(['expression']);
    expect(codes(e, 'response')).toEqual(['waits']);
    expect(codes(e, 'move')).toEqual(['waits']);
    expect(e.reports.get('move')?.failed).toBe(true);
    expect(positions(e)).toEqual(sphere.positions);
  });

  test('unknown and newer types, lost objects and missing wires are told', () => {
    const unknown = run(withNodes(replace('response', { type: 'crystal-ball' })));
    expect(words(unknown, 'response')).toContain('"crystal-ball"');
    expect(positions(unknown)).toEqual(sphere.positions);
    expect(codes(run(withNodes(replace('response', { version: 9 }))), 'response')).toEqual(['newer-node']);
    expect(codes(run(withNodes(replace('locator', { settings: { object: 'ghost' } }))), 'locator')).toEqual(['object-missing']);
    expect(codes(run(withNodes(replace('in', { settings: {} }))), 'in')).toEqual(['object-unset']);
    const lost = run(
      withNodes(
        (n) => n,
        (w) => w.filter((x) => x !== 'in.mesh > values.mesh'),
      ),
    );
    expect(words(lost, 'values')).toContain('"mesh" needs a mesh');
    const noAsset = new Evaluator(CATALOGUE).evaluate({
      project: project([swell()]),
      frame: 1,
      wanted: [SHOWN],
    });
    expect(codes(noAsset, 'in')).toEqual(['asset-missing']);
  });

  test('an asset that arrives later is seen', () => {
    const evaluator = new Evaluator(CATALOGUE);
    const request = { project: project([swell()]), frame: 1, wanted: [SHOWN] };
    evaluator.evaluate(request);
    evaluator.setAsset('mesh', sphere);
    expect(evaluator.evaluate(request).reports.get('in')?.failed).toBe(false);
  });

  test('columns of other counts are refused with both; of other owners paired with a warning', () => {
    const two = (cells: number): Project =>
      project([
        graph(
          [
            node('in', 'scene-mesh', { settings: { object: 'fish' } }),
            node('values', 'point-values'),
            node('grid', 'make-grid', { inputs: { cellsX: cells, cellsZ: 9 } }),
            node('others', 'point-values'),
            node('sum', 'arithmetic'),
            node('move', 'move-points'),
            node('show', 'show-mesh'),
          ],
          [
            'in.mesh > values.mesh',
            'grid.mesh > others.mesh',
            'values.positions > sum.a',
            'others.positions > sum.b',
            'in.mesh > move.mesh',
            'others.normals > move.offset',
            'move.mesh > show.mesh',
          ],
        ),
      ]);
    const grid = makeGrid([1, 1], [19, 4]);
    const unequal = run(two(3), [{ node: 'sum', port: 'result' }, SHOWN], grid);
    expect(words(unequal, 'sum')).toBe(
      '"a" has 100 values (from Point Values), "b" has 40 (from Point Values). Take both from the same geometry.',
    );
    expect(words(unequal, 'move')).toBe(
      '"offset" has 40 values (from Point Values), the mesh has 100 points (from Scene Mesh). Take both from the same geometry.',
    );
    expect(positions(unequal)).toEqual(grid.positions);
    const equal = run(two(9), [{ node: 'sum', port: 'result' }], grid);
    expect(codes(equal, 'sum')).toEqual(['column-owners']);
    expect(equal.value({ node: 'sum', port: 'result' })?.form).toBe('column');
  });

  test('a wrong kind on a wire is told with the remedy; a column into a single-valued input too', () => {
    const e = run(
      withNodes(
        (n) => n,
        (w) => [...w.filter((x) => !x.endsWith('response.value')), 'values.positions > response.value'],
      ),
      [{ node: 'response', port: 'result' }],
    );
    expect(words(e, 'response')).toContain('Take one axis with Split Vector');
    const uniform = run(
      project([
        graph(
          [node('in', 'scene-mesh', { settings: { object: 'fish' } }), node('values', 'point-values'), node('noise', 'noise')],
          ['in.mesh > values.mesh', 'values.positions > noise.position', 'values.indices > noise.octaves'],
        ),
      ]),
      [{ node: 'noise', port: 'result' }],
    );
    expect(codes(uniform, 'noise')).toEqual(['needs-single']);
  });

  test('a loop is named in full, and only it stops', () => {
    const g = graph(
      [
        node('a', 'arithmetic'),
        node('b', 'arithmetic'),
        node('c', 'arithmetic'),
        node('free', 'number', { inputs: { value: 4 } }),
      ],
      ['a.result > b.a', 'b.result > c.a', 'c.result > a.a', 'free.number > a.b'],
    );
    const e = run(
      project([g]),
      ['a', 'b', 'free'].map((n) => ({ node: n, port: n === 'free' ? 'number' : 'result' })),
    );
    expect(words(e, 'a')).toContain('Arithmetic → Arithmetic → Arithmetic → Arithmetic');
    expect(codes(e, 'b')).toEqual(['loop']);
    expect(e.value({ node: 'free', port: 'number' })).toMatchObject({
      form: 'single',
      data: Float64Array.of(4),
    });
    // A graph that reads the result it makes is a loop of facets; one that reads another's is not.
    const own = run(withNodes(replace('in', { settings: { object: 'fish', read: 'result' } })));
    expect(words(own, 'in')).toContain('Fish (result)');
  });

  test('one graph rides on what another made', () => {
    const rider = graph(
      [
        node('in2', 'scene-mesh', { settings: { object: 'fish', read: 'result' } }),
        node('move2', 'move-points', { inputs: { offset: [0, 10, 0] } }),
        node('show2', 'show-mesh', { settings: { object: 'copy' } }),
      ],
      ['in2.mesh > move2.mesh', 'move2.mesh > show2.mesh'],
      'rider',
    );
    const p = project([rider, swell()], [0, 1, 0], [makeObject('copy', 'Copy', 'mesh')]);
    const both = run(p, [SHOWN, { node: 'show2', port: 'shown' }]);
    const first = positions(both);
    const second = positions(both, { node: 'show2', port: 'shown' });
    first.forEach((v, i) => expect(second[i]).toBeCloseTo(v + (i % 3 === 1 ? 10 : 0), 5));
    expect(shownResults(CATALOGUE, p).map((r) => r.name)).toEqual(['Copy', 'Fish']);
  });

  test('two graphs that make the result of one object are both told so', () => {
    const g = swell();
    const again = {
      ...graph(
        [
          node('in9', 'scene-mesh', { settings: { object: 'fish' } }),
          node('show9', 'show-mesh', { settings: { object: 'fish' } }),
        ],
        ['in9.mesh > show9.mesh'],
        'again',
      ),
    };
    const e = run(project([g, again]), [SHOWN, { node: 'show9', port: 'shown' }]);
    expect(codes(e, 'show')).toEqual(['two-writers']);
    expect(codes(e, 'show9')).toEqual(['two-writers']);
    // One that is skipped makes nothing: the other is alone, and who reads the result reads its.
    const off = { ...again, nodes: again.nodes.map((n) => (n.id === 'show9' ? { ...n, skip: true } : n)) };
    const reads = graph(
      [node('reads', 'scene-mesh', { settings: { object: 'fish', read: 'result', space: 'own' } })],
      [],
      'reads',
    );
    const one = run(project([g, off, reads]), [SHOWN, { node: 'reads', port: 'mesh' }]);
    expect(codes(one, 'show')).toEqual([]);
    expect(meshOf(one.value({ node: 'reads', port: 'mesh' })).positions).toEqual(meshOf(one.value(SHOWN)).positions);
  });

  test('a value that is not finite is told at the node of the chain that made it, with its index', () => {
    const e = run(withNodes(replace('ratio', { inputs: { b: 0 } })));
    expect(words(e, 'ratio')).toContain('division by zero');
    expect(codes(e, 'distance')).toEqual([]);
    const broken = Float32Array.from(sphere.positions);
    broken[3 * 17 + 1] = NaN;
    const mesh = makeMesh(broken, Int32Array.from(sphere.topology.faceStarts), Int32Array.from(sphere.topology.cornerPoints));
    const nan = run(project([swell()]), [SHOWN], mesh);
    expect(nan.reports.get('in')?.problems[0]).toMatchObject({ code: 'not-finite', index: 17 });
  });

  test('skipped nodes hand on what arrives; in a chain too', () => {
    const e = run(withNodes(replace('move', { skip: true })));
    expect(positions(e)).toEqual(sphere.positions);
    const ratio = run(withNodes(replace('ratio', { skip: true })), [{ node: 'response', port: 'result' }]);
    const direct = run(withNodes(replace('ratio', { inputs: { b: 1 } })), [{ node: 'response', port: 'result' }]);
    expect(ratio.value({ node: 'response', port: 'result' })).toEqual(direct.value({ node: 'response', port: 'result' }));
  });

  test('an empty mesh passes through with a warning', () => {
    const empty = makeMesh(new Float32Array(0), Int32Array.of(0), new Int32Array(0));
    const e = run(project([swell()]), [SHOWN], empty);
    expect(codes(e, 'in')).toEqual(['mesh-empty']);
    expect(positions(e).length).toBe(0);
  });

  test('a very long chain of nodes neither overflows nor loses its way', () => {
    const count = 5000;
    const nodes = Array.from({ length: count }, (_, i) => node(`n${i}`, 'arithmetic', { inputs: { a: 0, b: 1 } }));
    const wires = nodes.slice(1).map((n, i) => `n${i}.result > ${n.id}.a`);
    const e = run(project([graph(nodes, wires)]), [{ node: `n${count - 1}`, port: 'result' }]);
    expect(e.value({ node: `n${count - 1}`, port: 'result' })).toMatchObject({
      data: Float64Array.of(count),
    });
  });
});

test('a card that waits names the card that failed, however far before it', () => {
  const p = project([
    graph(
      [node('bump', 'bulge'), node('a', 'bend'), node('b', 'twist'), node('show', 'show-mesh')],
      ['bump.mesh > a.mesh', 'a.mesh > b.mesh', 'b.mesh > show.mesh'],
    ),
  ]);
  const { reports } = evaluatorOf(makeSphere(1, 6, 8)).evaluate({ project: p, frame: 1, wanted: [SHOWN] });
  const waiting = ['a', 'b', 'show'].map((id) => reports.get(id)!.problems.find((x) => x.code === 'waits'));
  expect(waiting.map((x) => x?.on)).toEqual(['Bulge', 'Bulge', 'Bulge']);
});

test('a chain or group that was removed is called removed, not empty', () => {
  const gone = (type: 'chain' | 'group') => ({ object: makeObject(`gone-${type}`, 'Spine', type), frames: null });
  const p: Project = {
    ...project(
      [
        graph(
          [
            node('c', 'scene-chain', { settings: { object: 'gone-chain' } }),
            node('g', 'scene-group', { settings: { object: 'gone-group' } }),
            node('d', 'drive-chain', { settings: { object: 'gone-chain' } }),
            node('hand', 'scene-chain', { settings: { object: 'arm' } }),
          ],
          ['hand.chain > d.chain'],
        ),
      ],
      [0, 0, 0],
      [makeObject('arm', 'Arm', 'chain'), makeObject('wrist', 'Wrist', 'joint', { parent: 'arm' })],
    ),
    removed: [gone('chain'), gone('group')],
  };
  const wanted = [
    { node: 'c', port: 'chain' },
    { node: 'g', port: 'mesh' },
    { node: 'd', port: SHOWN.port },
  ];
  const { reports } = new Evaluator(CATALOGUE).evaluate({ project: p, frame: 1, wanted });
  for (const id of ['c', 'g', 'd'])
    expect(reports.get(id)!.problems.map(problemWords).join(' ')).toMatch(/"Spine" was removed from the scene, and/);
});
