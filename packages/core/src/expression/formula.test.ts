import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeProgramRunner, runPlainly } from './machine.ts';
import { formulaReadsTime, readFormula, type FormulaSource, type FormulaSurroundings } from './formula.ts';

const source = (text: string, outputs = 'result', inputs = ''): FormulaSource => {
  const names = (list: string) =>
    list
      .split(' ')
      .filter(Boolean)
      .map((n) => {
        const [name, type = 'number'] = n.split(':');
        return { name, type: type as 'number' | 'vector' };
      });
  return { text, outputs: names(outputs), inputs: names(inputs) };
};
const MESH: FormulaSurroundings = {
  attributes: new Map([
    ['position', 3],
    ['weight', 1],
  ]),
};
/** Enough for a whole chunk and part of another. */
const COUNT = 1200;
const position = Float32Array.from({ length: COUNT * 3 }, (_, i) => Math.sin(i * 1.7) * 3);
const weight = Float32Array.from({ length: COUNT }, (_, i) => (i % 7) / 3 - 1);
const PARAMETERS = { seconds: 1.5, frame: 36, fraction: 0.25, count: COUNT, k: -0.75 };

/** Runs in chunks of 1024, as the evaluator does. */
function run(s: FormulaSource, around = MESH, make: typeof makeProgramRunner = makeProgramRunner): Float32Array[] {
  const read = readFormula(s, around);
  expect(read.problems).toEqual([]);
  const lanes = read.reads.map((r) => ({ at: r.name === 'position' ? 0 : 1, width: r.width }));
  const outputs = read.results.flatMap((r, lane) =>
    r.values.map((operation, part) => ({ operation, lane, part, width: r.values.length as 1 | 3 })),
  );
  const runner = make(read.operations, outputs, PARAMETERS, lanes, 1024);
  const results = read.results.map((r) => new Float32Array(COUNT * r.values.length));
  for (let start = 0; start < COUNT; start += 1024) {
    const at = results.map((_, i) => start * read.results[i].values.length);
    runner(
      [position, weight],
      Int32Array.of(start * 3, start),
      results,
      Int32Array.from(at),
      Math.min(1024, COUNT - start),
      start,
    );
  }
  return results;
}

const refusal = (s: FormulaSource, around: FormulaSurroundings = MESH) => readFormula(s, around).problems[0]?.message;

const values = fc.letrec<{ number: string; vector: string }>((tie) => ({
  number: fc.oneof(
    { maxDepth: 5, depthSize: 'small' },
    fc.constantFrom('weight', 'position.x', 'position.z', 'seconds', 'index', 'frame', '0.5', '3', '0', 'pi'),
    fc
      .tuple(tie('number'), fc.constantFrom('+', '-', '*', '/', '%', '^', '<', '>=', '==', '!='), tie('number'))
      .map(([a, o, b]) => `(${a} ${o} ${b})`),
    fc
      .tuple(fc.constantFrom('sin', 'cos', 'exp', 'sqrt', 'abs', 'floor', 'round', 'sign', 'fract', 'atan', 'not'), tie('number'))
      .map(([f, a]) => `${f}(${a})`),
    fc
      .tuple(fc.constantFrom('min', 'max', 'atan2', 'random', 'and', 'or'), tie('number'), tie('number'))
      .map(([f, a, b]) => `${f}(${a}, ${b})`),
    fc
      .tuple(fc.constantFrom('clamp', 'mix', 'smoothstep', 'if'), tie('number'), tie('number'), tie('number'))
      .map(([f, a, b, c]) => `${f}(${a}, ${b}, ${c})`),
    fc.tuple(fc.constantFrom('length', 'noise'), tie('vector')).map(([f, v]) => `${f}(${v})`),
    fc.tuple(fc.constantFrom('dot', 'distance'), tie('vector'), tie('vector')).map(([f, a, b]) => `${f}(${a}, ${b})`),
  ),
  vector: fc.oneof(
    { maxDepth: 3, depthSize: 'small' },
    fc.constant('position'),
    fc.tuple(tie('vector'), fc.constantFrom('+', '-', '*'), tie('number')).map(([a, o, b]) => `(${a} ${o} ${b})`),
    fc.tuple(fc.constantFrom('normalize', '-'), tie('vector')).map(([f, v]) => `${f}(${v})`),
    fc.tuple(tie('vector'), tie('vector')).map(([a, b]) => `cross(${a}, ${b})`),
    fc.tuple(tie('number'), tie('number')).map(([a, b]) => `vector(${a}, ${b}, 1)`),
  ),
}));

describe('formulas', () => {
  test('give to the bit what one operation at a time gives, for any formula and element', () => {
    fc.assert(
      fc.property(values.number, values.vector, (number, vector) => {
        const s = source(`a = ${number}\nb = ${vector} + a`, 'a b:vector');
        const quick = run(s);
        const plain = run(s, MESH, (operations, outputs, parameters, lanes) =>
          runPlainly(operations, outputs, parameters, lanes),
        );
        expect(quick).toEqual(plain);
      }),
      { numRuns: 150 },
    );
  });

  test('that differ only in what JSON cannot write are not taken for one another', () => {
    const values = ['1 / 0', '-1 / 0', '0 / 0', '-0', '0'].map((text) => run(source(`index * 0 + (${text})`))[0][5]);
    expect(values).toEqual([Infinity, -Infinity, NaN, 0, 0]);
    const [minus, plus] = ['-0', '0'].map((text) => run(source(`if(index < 0, 1, ${text})`))[0][0]);
    expect([Object.is(minus, -0), Object.is(plus, 0)]).toEqual([true, true]);
  });

  test('are what the same maths by hand is', () => {
    const [wave] = run(source('position.y + 0.3 * sin(2 * position.x + seconds) * exp(-position.z * position.z)'));
    for (let i = 0; i < COUNT; i += 97) {
      const [x, y, z] = position.subarray(i * 3);
      expect(wave[i]).toBe(Math.fround(y + 0.3 * Math.sin(2 * x + 1.5) * Math.exp(-z * z)));
    }
    const text = `
      // a local is used and not kept
      half = count / 2; side = if(index < half, -1, 1)
      moved = position
      moved.y = moved.y + side * (
        weight * 2)
      tint = vector(index / count, 0, 1)`;
    const [moved, tint] = run(source(text, 'moved:vector tint:vector'));
    for (const i of [0, 599, 600, 1199]) {
      const side = i < 600 ? -1 : 1;
      expect(moved[i * 3 + 1]).toBe(Math.fround(position[i * 3 + 1] + side * weight[i] * 2));
      expect(moved[i * 3 + 2]).toBe(position[i * 3 + 2]);
      expect([...tint.slice(i * 3, i * 3 + 3)]).toEqual([Math.fround(i / COUNT), 0, 1]);
    }
    expect(formulaReadsTime(source('sin(frame)'))).toBe(true);
    expect(formulaReadsTime(source('sin(frame)', 'result', 'frame'))).toBe(false);
  });

  test('say in one sentence, with the place, what is wrong', () => {
    const known: [FormulaSource, string][] = [
      [source('positon.x'), 'has the unknown name "positon" at character 1. Did you mean "position"?'],
      [source('a = 1\nresult = a + b', 'result'), 'has the unknown name "b" in line 2 at character 14.'],
      [source('result = weight.x'), 'takes .x of a number; only vectors have x, y and z.'],
      [source('result = position.w'), 'takes the part ".w"; there are .x, .y and .z (or .r, .g and .b).'],
      [
        source('result = position'),
        'gives "result" a vector, but it was declared a number. Take .x, .y or .z, or its length(…).',
      ],
      [source('result = dot(position, 2)'), 'gives "dot" a number where it takes a vector.'],
      [source('result = sin(1, 2)'), 'gives "sin" 2 at character 10; it takes 1 value (x).'],
      [source('result = sine(1)'), 'has the unknown function "sine" at character 10. Did you mean "sin"?'],
      [source('result = result + 1'), 'uses "result" at character 10 before a line has given it a value.'],
      [source('a = b\nb = a\nresult = a'), 'uses "b" in line 1 at character 5 before a line has given it a value.'],
      [source('k = 2', 'result', 'k'), 'changes "k", which is an input. Give the result another name.'],
      [source('sin = 2'), 'gives a value to "sin", which already means something. Choose another name.'],
      [source('a = 1', 'result'), 'gives "result" no value. Add a line result = …'],
      [source('1', 'position mesh'), 'has an input or output called "mesh", which already means something. Choose another name.'],
      [source('1', 'a', 'a'), 'has two inputs or outputs called "a". Rename one.'],
      [source('a = 1\n5', 'a'), 'has a line that gives no name. Write name = … before it.'],
      [source(''), 'is empty. Type what "result" shall be.'],
      [source('1', ''), 'has a line that gives no name. Write name = … before it.'],
      [source(`result = ${'('.repeat(200)}1${')'.repeat(200)}`), 'nests deeper than 100 levels.'],
      [source(`result = ${'1+'.repeat(6000)}1`), 'is 12010 characters long; the most is 10000.'],
      [
        source(`a = position\n${'a = normalize(a + index * a)\n'.repeat(340)}result = a.x`),
        'comes to more than 4000 operations. Split it over two nodes.',
      ],
      [source('result = 1 +'), 'cannot be read at character 13: expected a number, a name or "(", found the end.'],
    ];
    for (const [s, message] of known) expect(refusal(s) ?? 'nothing', s.text.slice(0, 60)).toContain(message.slice(0, 45));
    expect(refusal(source('position.x'), {})).toContain('but no mesh is connected');
    const two = readFormula(source('a = 1 +\nb = )\nresult = c'), MESH);
    expect(two.problems.map((p) => [p.from, p.to])).toEqual([
      [7, 8],
      [12, 13],
      [23, 24],
    ]);
  });

  test('never fail another way, whatever is typed', () => {
    const pieces = fc.constantFrom(
      'a',
      'position',
      '.',
      'x',
      '=',
      '\n',
      ';',
      '(',
      ')',
      ',',
      '1',
      '+',
      '-',
      '*',
      '^',
      'sin',
      'if',
      '<',
      ' ',
      '//',
      '😀',
      '5e9',
      '%',
    );
    fc.assert(
      fc.property(fc.array(pieces, { maxLength: 40 }), (list) => {
        const read = readFormula(source(list.join('')), MESH);
        if (read.problems.length === 0) run(source(list.join('')));
        for (const p of read.problems) expect(p.to).toBeGreaterThanOrEqual(p.from);
      }),
      { numRuns: 1000 },
    );
  });
});
