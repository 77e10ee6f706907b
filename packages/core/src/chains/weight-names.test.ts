import fc from 'fast-check';
import { expect, test } from 'vitest';
import { makeBox } from '../geometry/solids.ts';
import { parseStatements } from '../expression/parse.ts';
import { NO_PAINT, withPaint } from '../paint/painted.ts';
import type { Painted } from '../project/fields.ts';
import { readProjectFile, writeProjectFile } from '../project/file.ts';
import { makeObject } from '../project/kinds/index.ts';
import { graph, node, project } from '../testing/build.ts';
import { makeChain } from './chain.ts';
import { identity } from '../maths/matrix.ts';
import { packWeights, renamedWeights, weightName, withWeights } from './skin-weights.ts';

const former = (joint: string) => `weight_${joint.replace(/[^A-Za-z0-9_]/g, '_')}`;

test('joints of other names have other weights, whatever script they are in, and formulas can name them', () => {
  const alike = [
    'Плечо',
    'Рукав',
    'Кисть',
    'Палец',
    '上腕',
    '前腕',
    'L arm',
    'L-arm',
    'L.arm',
    'L_arm',
    ' L arm',
    'L  arm',
    'L__arm',
    '',
  ];
  expect(new Set(alike.map(weightName)).size).toBe(alike.length);
  expect(weightName('Left foot')).toBe('weight_Left_foot');
  expect(weightName('Плечо')).toBe('weight_Плечо');
  const part = fc.oneof(fc.constantFrom(' ', '_', '__', '-', '.', 'a', '5f', '_20_', 'é', 'e\u0301', '腕', '🐟'), fc.string());
  const name = fc.array(part, { maxLength: 5 }).map((p) => p.join(''));
  fc.assert(
    fc.property(name, name, (a, b) => {
      expect(weightName(a) === weightName(b)).toBe(a === b);
      expect(parseStatements(`x = ${weightName(a)}`).problems).toEqual([]);
    }),
    { numRuns: 3000 },
  );
});

test('each joint moves with its own weights', () => {
  const names = ['Плечо', 'Рукав', 'L arm', 'L-arm', 'L.arm', 'L_arm'];
  const { chain } = makeChain(names.map((n, i) => ({ name: n, parent: i - 1, rest: identity(), posed: identity() })));
  const mesh = makeBox([1, 1, 1], [1, 1, 1]);
  const columns = names.map((_, j) => Float32Array.from({ length: 8 }, (__, p) => (p % names.length === j ? 1 : 0)));
  const packed = packWeights(withWeights(mesh, chain, columns), chain);
  expect(packed.unknown).toEqual([]);
  expect([...packed.joints]).toEqual([0, 1, 2, 3, 4, 5, 0, 1]);
});

test('a file of the format before opens with the weights it had: its mesh, what is painted, and what names them', () => {
  const joints = ['L.arm', 'L-arm', 'Рука', 'Left foot', 'R_arm'].map((name, i) =>
    makeObject(`j${i}`, name, 'joint', { parent: i === 0 ? 'rig' : `j${i - 1}` }),
  );
  const painted = withPaint(NO_PAINT, 8, new Map([[former('R_arm'), { points: [0], values: [1] }]]));
  const nodes = [
    node('paint', 'paint-values', { settings: { name: former('L.arm'), painted } }),
    node('formula', 'formula', { settings: { formula: `x = ${former('Рука')} + weight_Left_foot` } }),
  ];
  const p = project([graph(nodes, [])], [0, 0, 0], [makeObject('rig', 'Rig', 'chain', {}), ...joints]);
  const box = makeBox([1, 1, 1], [1, 1, 1]);
  const data = new Float32Array(8).fill(1);
  const attributes = ['L.arm', 'Рука', 'Left foot', 'R_arm'].map((n) => ({
    ...{ name: former(n), on: 'point' as const, type: 'number' as const, role: 'plain' as const, data },
  }));
  const text = writeProjectFile(p, new Map([['mesh', { ...box, attributes }]]));
  const old = text.replace(/"version": 12/, '"version": 11');
  expect(old).not.toBe(text);
  const opened = readProjectFile(old);
  // Of joints that shared an attribute, the first had it.
  expect(opened.assets.get('mesh')?.attributes.map((a) => a.name)).toEqual(
    ['L.arm', 'Рука', 'Left foot', 'R_arm'].map(weightName),
  );
  const [paint, formula] = opened.project.graphs[0].nodes;
  expect(paint.settings.name).toBe(weightName('L.arm'));
  expect(Object.keys((paint.settings.painted as Painted).columns)).toEqual([weightName('R_arm')]);
  expect(formula.settings.formula).toBe(`x = ${weightName('Рука')} + weight_Left_foot`);
  expect(renamedWeights(['Left foot', 'arm'])).toEqual(new Map());
});
