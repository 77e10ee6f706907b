import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { dependsOnTime, evaluateExpression, evaluateTree, parseExpression, timeScope } from './evaluate.ts';
import { ExpressionError } from './parse.ts';

const scope = timeScope(48, 24, { first: 0, last: 96 });
const value = (text: string) => evaluateExpression(text, scope);
const refusal = (text: string) => {
  try {
    parseExpression(text);
  } catch (e) {
    if (e instanceof ExpressionError) return { message: e.message, position: e.position };
    throw e;
  }
  return undefined;
};

/** Random sums as text with brackets everywhere, beside their value. */
const sums = fc.letrec<{ sum: { text: string; value: number } }>((tie) => ({
  sum: fc.oneof(
    { maxDepth: 5 },
    fc.integer({ min: 0, max: 99 }).map((n) => ({ text: String(n), value: n })),
    fc.constant({ text: 'seconds', value: 2 }),
    fc.tuple(tie('sum'), fc.constantFrom('+', '-', '*'), tie('sum')).map(([a, o, b]) => ({
      text: `(${a.text}) ${o} (${b.text})`,
      value: o === '+' ? a.value + b.value : o === '-' ? a.value - b.value : a.value * b.value,
    })),
    tie('sum').map((a) => ({ text: `-(${a.text})`, value: -a.value })),
    tie('sum').map((a) => ({ text: `max(${a.text}, 3)`, value: Math.max(a.value, 3) })),
  ),
})).sum;

describe('expressions', () => {
  test('follow the rules of written maths', () => {
    const known: [string, number][] = [
      ['0.8 + 0.4 * sin(seconds / 3)', 0.8 + 0.4 * Math.sin(2 / 3)],
      ['-2^2', -4],
      ['(-2)^2', 4],
      ['2^3^2', 512],
      ['2^-1', 0.5],
      ['-2 * -3 - -1', 7],
      ['7 % 3 + -7 % 3', 3],
      ['clamp(5, 0, 1) + mix(2, 4, 0.5)', 4],
      ['smoothstep(0, 2, 1)', 0.5],
      ['frame + fraction * 10', 53],
      ['cos(pi) + log(e)', 0],
    ];
    for (const [text, expected] of known) expect(value(text), text).toBeCloseTo(expected, 12);
    fc.assert(fc.property(sums, (s) => void expect(value(s.text)).toBe(s.value)));
  });

  test('say where they go wrong and what was expected', () => {
    expect(refusal('sin(')).toEqual({
      message: 'cannot be read at character 5: expected a number, a name or "(", found the end.',
      position: 5,
    });
    expect(refusal('1 +')?.message).toContain('expected a number, a name or "("');
    expect(refusal('2 * second')).toEqual({
      message: 'has the unknown name "second" at character 5. Did you mean "seconds"?',
      position: 5,
    });
    expect(refusal('sin + 1')?.message).toContain('write sin(…)');
    expect(refusal('clamp(1, 2)')?.message).toContain('it takes 3 values');
    expect(refusal('2 3')?.message).toContain('expected an operator or the end, found "3"');
    expect(refusal('a.b')?.message).toContain('expected a bare name');
    expect(refusal('')?.message).toContain('is empty');
    expect(refusal('constructor(1)')?.message).toContain('unknown function');
    expect(refusal('toString')?.message).toContain('unknown name');
    expect(refusal(`${'('.repeat(101)}1${')'.repeat(101)}`)?.message).toContain('nests deeper');
    expect(refusal('1+'.repeat(1200) + '1')?.message).toContain('characters long');
  });

  test('refuse any other text with an ExpressionError, never another way', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (text) => void refusal(text)),
      { numRuns: 3000 },
    );
    fc.assert(
      fc.property(fc.stringMatching(/^[-+*/%^()a-z0-9., ]{0,40}$/), (text) => void refusal(text)),
      { numRuns: 3000 },
    );
  });

  test('know whether they change with time; dividing by 0 follows IEEE', () => {
    expect(dependsOnTime(parseExpression('1 + sin(2 * pi)'))).toBe(false);
    expect(dependsOnTime(parseExpression('max(1, -frame)'))).toBe(true);
    expect(value('1 / 0')).toBe(Infinity);
    expect(value('5 % 0')).toBeNaN();
    expect(evaluateTree({ type: 'name', name: 'nowhere', from: 0, to: 7 }, scope)).toBeNaN();
  });
});
