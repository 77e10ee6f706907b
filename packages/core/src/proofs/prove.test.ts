import { describe, expect, test } from 'vitest';
import { moduleFile } from '../modules/file.ts';
import type { ModuleFile } from '../modules/file.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { offeredWays, packNodes } from '../edits/pack.ts';
import type { Proof, Project } from '../project/schema.ts';
import { makeSphere } from '../geometry/primitives.ts';
import { wallsOf } from '../modules/walls.ts';
import { graph, node, project } from '../testing/build.ts';
import { movesBetween } from './moves.ts';
import { prove, type ProofResult } from './prove.ts';
import { proveTwice } from './prove-twice.ts';

/** A module that moves a mesh by an offset whose height is worked out from a dial. */
function lifting(expression: string, proofs: readonly Proof[], example: 'ball' | 'sheet' = 'ball'): ModuleFile {
  const scene = project([
    graph(
      [
        node('in', 'scene-mesh', { settings: { object: 'fish' } }),
        node('height', 'formula', {
          settings: { formula: `result = ${expression}`, inputs: { names: [{ name: 'a', type: 'number' }] } },
          inputs: { a: 0 },
        }),
        node('up', 'build-vector'),
        node('move', 'move-points'),
        node('show', 'show-mesh', { settings: { object: 'fish' } }),
      ],
      ['height.result > up.y', 'in.mesh > move.mesh', 'up.vector > move.offset', 'move.mesh > show.mesh'],
    ),
  ]);
  const picked = ['height', 'up', 'move'];
  const ways = offeredWays(CATALOGUE, scene, 'graph', picked).filter((w) => w.needed || w.at.node === 'height');
  const { project: p, module } = packNodes(CATALOGUE, scene, 'graph', picked, 'Lift', ways);
  return moduleFile(p, { ...module, example, proofs: [...proofs] }, '', '');
}

const dialOf = (file: ModuleFile): string =>
  wallsOf(CATALOGUE, file.module.graph).ins.find((w) => w.sets.length === 0 && w.default === 0)!.id;
const withProofs = (file: ModuleFile, of: (dial: string) => readonly Proof[]): ModuleFile => ({
  ...file,
  module: { ...file.module, proofs: [...of(dialOf(file))] },
});
const plain = { dials: {}, known: '' };

describe('Proofs', () => {
  test('find what is not a number, wherever it is, and never take it for still', async () => {
    const file = withProofs(lifting('sqrt(a)', []), (dial) => [
      { kind: 'keeps-rest', dials: { [dial]: -1 }, known: '', within: 1 },
      { kind: 'stretch', dials: { [dial]: -1 }, known: '', least: 0, most: 1e9 },
      { kind: 'finite', dials: { [dial]: -1 }, known: '' },
      { kind: 'no-pop', ...plain, dial, from: -1, to: 1 },
      { kind: 'keeps-rest', ...plain, within: 0 },
    ]);
    const results = await prove(file);
    expect(results.map((r) => r.ok)).toEqual([false, false, false, false, true]);
    expect(results[3].found).toMatch(/not finite at/);
  });

  test('tell a jump from a slope, and where it is', async () => {
    const pops = async (expression: string) =>
      (await prove(withProofs(lifting(expression, []), (dial) => [{ kind: 'no-pop', ...plain, dial, from: 0, to: 1 }])))[0];
    expect((await pops('a * a')).ok).toBe(true);
    const jump = await pops('if(a < 0.4, 0, 1)');
    expect(jump.ok).toBe(false);
    expect(Number(/at ([0-9.]+)$/.exec(jump.found)?.[1])).toBeCloseTo(0.4, 1);
    expect(Object.values(jump.dials ?? {})[0]).toBeCloseTo(0.4, 1);
    // A dial that does nothing does not pop.
    expect((await pops('a * 0')).ok).toBe(true);
    // What comes and goes between two steps is no jump, and hides none.
    expect((await pops('sin(60 * a)')).ok).toBe(true);
    const hidden = await pops('sin(60 * a) + if(a < 0.4, 0, 0.5)');
    expect(hidden.ok).toBe(false);
    expect(Object.values(hidden.dials ?? {})[0]).toBeCloseTo(0.4, 2);
  });

  test('do not hold for dials that are gone, or on examples that they say nothing about', async () => {
    const gone = await prove(
      lifting('a', [
        { kind: 'no-pop', ...plain, dial: 'way-gone', from: 0, to: 1 },
        { kind: 'keeps-rest', dials: { other: 0 }, known: '', within: 1 },
      ]),
    );
    expect(gone.map((r) => [r.ok, r.found])).toEqual([
      [false, 'The dial it turns, "way-gone", is gone.'],
      [false, 'The dial it turns, "other", is gone.'],
    ]);
    const flat = await prove(
      lifting(
        'a',
        [
          { kind: 'volume', ...plain, within: 1 },
          { kind: 'stays-closed', ...plain },
        ],
        'sheet',
      ),
    );
    expect(flat.every((r) => !r.ok && r.found.includes('Choose the ball or the block'))).toBe(true);
  });

  test('have the closed forms of a lift: farthest move, edges and volume', async () => {
    const file = withProofs(lifting('a', []), (dial) => [
      { kind: 'keeps-rest', dials: { [dial]: 0.25 }, known: '', within: 0.250001 },
      { kind: 'keeps-rest', dials: { [dial]: 0.25 }, known: '', within: 0.249 },
      { kind: 'volume', dials: { [dial]: 2 }, known: '', within: 1e-5 },
      { kind: 'stretch', dials: { [dial]: 2 }, known: '', least: 0.999, most: 1.001 },
      { kind: 'same-order', ...plain },
      { kind: 'stays-closed', ...plain },
      { kind: 'area', dials: { [dial]: 2 }, known: '', within: 1e-5 },
    ]);
    const results = await prove(file);
    expect(results.map((r) => r.ok)).toEqual([true, false, true, true, true, true, true]);
    expect(results[1].number).toBeCloseTo(0.25, 6);
  });
});

test('a move to what is no number is told; the same, even of such, is none', () => {
  const lifted = (y: number | { expression: string }): Project =>
    project([
      graph(
        [
          node('in', 'scene-mesh', { settings: { object: 'fish' } }),
          node('move', 'move-points', { inputs: { offset: [0, y, 0] } }),
          node('show', 'show-mesh', { settings: { object: 'fish' } }),
        ],
        ['in.mesh > move.mesh', 'move.mesh > show.mesh'],
      ),
    ]);
  const assets = new Map([['mesh', makeSphere(1, 4, 5)]]);
  const none = lifted({ expression: '0 / 0' });
  expect(movesBetween(none, lifted({ expression: '0 / 0' }), assets, 1)).toEqual([]);
  const [move] = movesBetween(lifted(0), none, assets, 1);
  expect(move?.most === undefined || Number.isNaN(move.most)).toBe(true);
  const [half] = movesBetween(lifted(0), lifted(0.5), assets, 1);
  expect(half.name).toBe('Fish');
  expect(half.most).toBeCloseTo(0.5, 6);
});

describe('a bound of cost that is missed', () => {
  const cost = (most: number, known = ''): Proof => ({ kind: 'cost', dials: {}, known, most });
  const keeps: Proof = { kind: 'finite', dials: {}, known: '' };
  const result = (ok: boolean, number: number, known = ''): ProofResult => ({ name: '', known, ok, number, found: '' });
  const twice = async (proofs: readonly Proof[], first: ProofResult[], other: ProofResult[] | undefined) => {
    const asked: (readonly Proof[])[] = [];
    const file = lifting('a', proofs);
    const results = await proveTwice(
      file,
      () => Promise.resolve(first),
      (f) => Promise.resolve((asked.push(f.module.proofs), other)),
    );
    return { results, asked };
  };

  test('is tried again elsewhere, alone, and counts only where it is missed there too', async () => {
    const first = [result(true, 1), result(false, 80), result(false, 3), result(false, 90)];
    const proofs = [cost(60), cost(60), keeps, cost(60)];
    const { results, asked } = await twice(proofs, first, [result(true, 28), result(false, 70)]);
    expect(asked).toEqual([[proofs[1], proofs[3]]]);
    expect(results.map((r) => [r.ok, r.number])).toEqual([
      [true, 1],
      [true, 28],
      [false, 3],
      [false, 90],
    ]);
  });

  test('is not tried again where it holds, is known to be missed, or there is no other process', async () => {
    expect((await twice([cost(60), keeps], [result(true, 1), result(false, 1)], undefined)).asked).toEqual([]);
    expect((await twice([cost(60, 'slow')], [result(false, 80, 'slow')], [result(true, 1)])).asked).toEqual([]);
    expect((await twice([cost(60)], [result(false, 80)], undefined)).results).toEqual([result(false, 80)]);
  });
});
