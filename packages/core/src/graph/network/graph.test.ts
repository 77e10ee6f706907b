import { tableToCsv } from '@umberfish/formats';
import { CATALOGUE } from '../../nodes/index.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeGrid, makeSphere } from '../../geometry/primitives.ts';
import { breathing, evaluatorOf, graph, node, project, swell, wire } from '../../testing/build.ts';
import { checkConnection, portsThatFit, wireNote } from './connect.ts';
import { downstreamOf, facetGraph, facetVertex } from './facets.ts';
import { outputKinds, resolveGraph } from './resolve.ts';
import { statisticsOf } from '../node/statistics.ts';
import { contextGeometry, makeTable, sortRows, tableRows } from '../readouts/table.ts';
import { meshValue, numberValue, pointColumn } from '../node/values.ts';

describe('connections', () => {
  const g = swell();
  test('are refused with a reason: kinds that do not fit, loops, ports that are gone', () => {
    const reason = (from: string, to: string) => {
      const w = wire(`${from} > ${to}`);
      const result = checkConnection(CATALOGUE, g, w.from, w.to);
      return result.ok ? 'ok' : result.reason;
    };
    expect(reason('in.mesh', 'distance.a')).toContain('Read its values with Point Values');
    expect(reason('values.positions', 'response.value')).toContain('Split Vector');
    expect(reason('distance.result', 'show.mesh')).toContain('Connect a mesh');
    expect(reason('locator.matrix', 'offset.a')).toContain('takes a number or vector');
    expect(reason('offset.result', 'ratio.a')).toContain('close a loop');
    expect(reason('ratio.result', 'ratio.a')).toContain('close a loop');
    expect(reason('distance.result', 'nowhere.a')).toContain('no longer there');
    expect(reason('distance.result', 'offset.c')).toBe('ok');
  });

  test('kinds follow from what is connected, and a spread number is told', () => {
    const kinds = outputKinds(CATALOGUE, g);
    expect([kinds.get('ratio.result'), kinds.get('offset.result')]).toEqual(['number', 'vector']);
    const into = (end: string) => g.wires.find((w) => w.id.endsWith(end))!;
    expect(wireNote(CATALOGUE, g, into('offset.b'))).toBe('1 → xyz');
    const seen = (form: string, kind: string, makesMany = true) => ({ form, kind, makesMany });
    expect(wireNote(CATALOGUE, g, into('offset.b'), seen('column', 'number'))).toBe('1 → xyz');
    // Three numbers arrived, whatever could have.
    expect(wireNote(CATALOGUE, g, into('offset.b'), seen('column', 'vector'))).toBeUndefined();
    expect(wireNote(CATALOGUE, g, into('distance.b'), seen('single', 'vector'))).toBe('1 → column');
    expect(wireNote(CATALOGUE, g, into('distance.b'), seen('single', 'vector', false))).toBeUndefined();
    expect(wireNote(CATALOGUE, g, into('distance.b'))).toBeUndefined();
    expect(wireNote(CATALOGUE, g, into('offset.a'), seen('column', 'vector'))).toBeUndefined();
  });
});

describe('facets', () => {
  test('what is downstream of a locator is what reads it', () => {
    const p = project([swell(), { ...breathing(), id: 'other', nodes: [], wires: [] }]);
    const facets = facetGraph(CATALOGUE, p);
    const reached = downstreamOf(facets, facetVertex({ object: 'here', facet: 'channels' }));
    const nodes = [...reached].map((v) => facets.units.get(v)?.node.record.id).filter(Boolean);
    expect([...new Set(nodes)].sort()).toEqual(['distance', 'locator', 'move', 'offset', 'ratio', 'response', 'show']);
    expect(reached.has(facetVertex({ object: 'fish', facet: 'result' }))).toBe(true);
    expect(reached.has(facetVertex({ object: 'fish', facet: 'world' }))).toBe(false);
  });

  test('outputs of one node that read other facets are other units: rest does not follow the channels', () => {
    const p = project([graph([node('locator', 'scene-locator', { settings: { object: 'here' } })], [])]);
    const reached = downstreamOf(facetGraph(CATALOGUE, p), facetVertex({ object: 'here', facet: 'channels' }));
    const facets = facetGraph(CATALOGUE, p);
    expect(reached.has(facets.unitOfPort.get('locator.position')!)).toBe(true);
    expect(reached.has(facets.unitOfPort.get('locator.rest')!)).toBe(false);
  });
});

describe('statistics and tables', () => {
  test('statistics are those of plain JavaScript', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ noNaN: true, noDefaultInfinity: true, min: -1e6, max: 1e6 }), {
          minLength: 1,
          maxLength: 200,
        }),
        (list) => {
          const data = Float32Array.from(list);
          const mesh = makeGrid([1, 1], [1, 1]);
          const s = statisticsOf({ ...pointColumn(mesh, 'number', data), count: data.length });
          expect(s.minimum[0]).toBe(Math.min(...data));
          expect(s.maximum[0]).toBe(Math.max(...data));
          expect(s.mean[0]).toBeCloseTo(data.reduce((a, b) => a + b, 0) / data.length, 2);
          expect(s.histogram.reduce((a, b) => a + b, 0)).toBe(data.length);
        },
      ),
    );
    const bad = statisticsOf({
      ...pointColumn(makeGrid([1, 1], [1, 1]), 'number', Float32Array.of(1, NaN, 3, Infinity)),
      count: 4,
    });
    expect([bad.notFinite, bad.minimum[0], bad.maximum[0], bad.mean[0]]).toEqual([2, 1, 3, 2]);
    expect(statisticsOf(numberValue(5))).toMatchObject({ count: 1, minimum: [5] });
    expect(statisticsOf(meshValue(makeSphere(1, 4, 5)))).toMatchObject({ count: 17, faces: 20, edges: 35 });
  });

  test('rows sort as plain JavaScript sorts them, NaN last, equals by row', () => {
    const values = fc.array(fc.oneof(fc.float(), fc.constantFrom(0, -0, 1, NaN, -Infinity, Infinity)), {
      maxLength: 300,
    });
    fc.assert(
      fc.property(values, fc.boolean(), (list, descending) => {
        const data = Float32Array.from(list);
        const table = {
          rows: data.length,
          on: 'point' as const,
          columns: [{ label: 'v', part: '', unit: '', data, width: 1, offset: 0, whole: false }],
        };
        const order = Array.from(sortRows(table, 0, descending), (i) => data[i]);
        const expected = [...data].filter((v) => !Number.isNaN(v)).sort((a, b) => (descending ? b - a : a - b));
        expect(order.filter((v) => !Number.isNaN(v)).map((v) => v + 0)).toEqual(expected.map((v) => v + 0));
        expect(order.slice(expected.length).every(Number.isNaN)).toBe(true);
      }),
    );
  });

  test('a column is listed beside the positions of its own mesh', () => {
    const g = swell();
    expect(contextGeometry(CATALOGUE, g, 'response')).toEqual({ node: 'in', port: 'mesh' });
    expect(contextGeometry(CATALOGUE, g, 'locator')).toBeUndefined();
    const mesh = makeGrid([2, 2], [2, 2]);
    const e = evaluatorOf(mesh).evaluate({
      project: project([g], [1, 0, 0]),
      frame: 1,
      wanted: [
        { node: 'distance', port: 'result' },
        { node: 'in', port: 'mesh' },
      ],
    });
    const table = makeTable(
      e.value({ node: 'distance', port: 'result' })!,
      'distance',
      'm',
      'point',
      (e.value({ node: 'in', port: 'mesh' }) as { mesh: typeof mesh }).mesh,
    );
    expect(table.columns.map((c) => c.label + c.part)).toEqual(['positionx', 'positiony', 'positionz', 'distance']);
    expect(Array.from(tableRows(table, 4, 2))).toEqual([0, 0, 0, 1, 1, 0, 0, 0]);
    expect(tableRows(table, 8, 100).length).toBe(4);
    expect(
      tableToCsv(table, Int32Array.of(5, 4, 3, 2, 1, 0, 8, 7, 6))
        .split('\n')
        .slice(0, 3),
    ).toEqual(['point,position.x,position.y,position.z,distance', '5,1,0,0,0', '4,0,0,0,1']);
    expect(makeTable(meshValue(mesh), 'mesh', '', 'corner', undefined).rows).toBe(16);
  });
});

test('ports that fit a wire are those that a check of each would allow', () => {
  const chain = graph(
    [
      node('fish', 'scene-mesh', { settings: { object: 'fish' } }),
      node('even', 'smooth'),
      node('values', 'point-values'),
      node('far', 'measure'),
      node('swell', 'swell-out'),
      node('here', 'scene-locator'),
      node('odd', 'of another time'),
    ],
    [
      'fish.mesh > even.mesh',
      'even.mesh > values.mesh',
      'values.positions > far.a',
      'far.result > swell.weight',
      'odd.x > far.b',
    ],
  );
  const nodes = resolveGraph(CATALOGUE, chain);
  for (const [id, { inputs, outputs }] of nodes)
    for (const side of ['output', 'input'] as const)
      for (const { id: port } of side === 'output' ? outputs : inputs) {
        const fits = portsThatFit(CATALOGUE, chain, { node: id, port }, side);
        for (const [other, at] of nodes)
          for (const p of side === 'output' ? at.inputs : at.outputs) {
            const ends = [
              { node: id, port },
              { node: other, port: p.id },
            ] as const;
            const [from, to] = side === 'output' ? ends : [ends[1], ends[0]];
            const allowed = checkConnection(CATALOGUE, chain, from, to).ok;
            expect(fits.get(other)?.has(p.id), `${id}.${port} ${side} ${other}.${p.id}`).toBe(allowed);
          }
      }
});
