import jsep from 'jsep';

/** Names an expression may use, and what they stand for. */
export const EXPRESSION_NAMES = ['seconds', 'frame', 'fraction', 'pi', 'e'] as const;

/** Functions of an expression, with the number of arguments each takes (−1: one or more). */
export const EXPRESSION_FUNCTIONS: Record<string, { takes: number; run: (...a: number[]) => number }> = {
  sin: { takes: 1, run: Math.sin },
  cos: { takes: 1, run: Math.cos },
  tan: { takes: 1, run: Math.tan },
  asin: { takes: 1, run: Math.asin },
  acos: { takes: 1, run: Math.acos },
  atan: { takes: 1, run: Math.atan },
  atan2: { takes: 2, run: Math.atan2 },
  sqrt: { takes: 1, run: Math.sqrt },
  exp: { takes: 1, run: Math.exp },
  log: { takes: 1, run: Math.log },
  pow: { takes: 2, run: Math.pow },
  abs: { takes: 1, run: Math.abs },
  sign: { takes: 1, run: Math.sign },
  floor: { takes: 1, run: Math.floor },
  ceil: { takes: 1, run: Math.ceil },
  round: { takes: 1, run: Math.round },
  fract: { takes: 1, run: (x) => x - Math.floor(x) },
  min: { takes: -1, run: Math.min },
  max: { takes: -1, run: Math.max },
  clamp: { takes: 3, run: (x, low, high) => Math.min(Math.max(x, low), high) },
  mix: { takes: 3, run: (a, b, t) => a + (b - a) * t },
  smoothstep: {
    takes: 3,
    run: (low, high, x) => {
      const t = low === high ? Number(x >= low) : Math.min(Math.max((x - low) / (high - low), 0), 1);
      return t * t * (3 - 2 * t);
    },
  },
  degrees: { takes: 1, run: (r) => (r * 180) / Math.PI },
  radians: { takes: 1, run: (d) => (d * Math.PI) / 180 },
};

/** An expression as a checked tree. */
export type ExpressionTree =
  | { type: 'number'; value: number }
  | { type: 'name'; name: string }
  | { type: 'unary'; operator: '-' | '+'; of: ExpressionTree }
  | { type: 'binary'; operator: BinaryOperator; left: ExpressionTree; right: ExpressionTree }
  | { type: 'call'; name: string; of: readonly ExpressionTree[] };

const BINARY = ['+', '-', '*', '/', '%', '^'] as const;
export type BinaryOperator = (typeof BINARY)[number];

/** Why an expression cannot be read; `position` counts characters from 1. The message ends a sentence. */
export class ExpressionError extends Error {
  readonly position: number;
  constructor(message: string, position: number) {
    super(message);
    this.position = position;
  }
}

const MOST_CHARACTERS = 2000;
const MOST_LEVELS = 100;

let prepared = false;
function prepareParser(): void {
  if (prepared) return;
  prepared = true;
  jsep.removeAllUnaryOps();
  jsep.removeAllBinaryOps();
  jsep.removeAllLiterals();
  jsep.addUnaryOp('-');
  jsep.addUnaryOp('+');
  jsep.addBinaryOp('+', 9);
  jsep.addBinaryOp('-', 9);
  jsep.addBinaryOp('*', 10);
  jsep.addBinaryOp('/', 10);
  jsep.addBinaryOp('%', 10);
  jsep.addBinaryOp('^', 11, true);
  // Brackets are marked, so that (−2)^2 can be told from −2^2.
  jsep.hooks.add('gobble-token', function (this: BracketParser, env: { node?: jsep.Expression }) {
    if (this.code !== 40) return;
    const group = this.gobbleGroup();
    if (group) env.node = Object.assign(group, { bracketed: true });
  });
}

/** What the bracket hook uses of the parser it runs in. */
interface BracketParser {
  code: number;
  gobbleGroup(): jsep.Expression | false;
}

/**
 * Reads plain maths with bare names: `0.8 + 0.4 * sin(seconds / 3)`. `^` is power and binds from the right, more
 * tightly than a minus sign before it (−2^2 is −4).
 * @param extraNames names to allow besides `EXPRESSION_NAMES`.
 * @throws ExpressionError with the position and what was expected.
 */
export function parseExpression(text: string, extraNames: readonly string[] = []): ExpressionTree {
  prepareParser();
  if (text.trim() === '')
    throw new ExpressionError('is empty. Type a number or a sum such as 2 * sin(seconds).', 1);
  if (text.length > MOST_CHARACTERS) {
    throw new ExpressionError(
      `is ${text.length} characters long; the most is ${MOST_CHARACTERS}.`,
      MOST_CHARACTERS,
    );
  }
  checkLevels(text);
  let parsed: jsep.Expression;
  try {
    parsed = jsep(text);
  } catch (error) {
    const { index, description } = error as { index?: number; description?: string };
    const position = Math.min((index ?? 0) + 1, text.length + 1);
    throw new ExpressionError(
      `cannot be read at character ${position}: ${inWords(description ?? '', text, position)}`,
      position,
    );
  }
  const known = new Set<string>([...EXPRESSION_NAMES, ...extraNames]);
  return check(parsed, { text, known, places: new Map() });
}

function inWords(description: string, text: string, position: number): string {
  const found = position <= text.length ? `"${text[position - 1]}"` : 'the end';
  if (/Expected expression|Unexpected/i.test(description))
    return `expected a number, a name or "(", found ${found}.`;
  if (/Unclosed \(|Expected \)/i.test(description)) return `expected ")", found ${found}.`;
  if (/Variable names|number/i.test(description)) return 'expected an operator between a number and a name.';
  return `expected an operator or the end, found ${found}.`;
}

function checkLevels(text: string): void {
  let level = 0;
  for (let i = 0; i < text.length; i++) {
    if (text[i] === '(') level++;
    if (text[i] === ')') level--;
    if (level > MOST_LEVELS) throw new ExpressionError(`nests deeper than ${MOST_LEVELS} brackets.`, i + 1);
  }
}

interface Checking {
  text: string;
  known: ReadonlySet<string>;
  /** How often each name was met, to find the place of the next. */
  places: Map<string, number>;
}

function check(e: jsep.Expression, c: Checking, level = 0): ExpressionTree {
  if (level > 1000) throw new ExpressionError('is too long a chain of operations.', 1);
  switch (e.type) {
    case 'Literal': {
      const value = (e as jsep.Literal).value;
      if (typeof value === 'number' && Number.isFinite(value)) return { type: 'number', value };
      throw unexpected(String((e as jsep.Literal).raw), c, 'a number');
    }
    case 'Identifier': {
      const name = String((e as jsep.Identifier).name);
      const position = placeOf(name, c);
      if (c.known.has(name)) return { type: 'name', name };
      if (Object.hasOwn(EXPRESSION_FUNCTIONS, name)) {
        throw new ExpressionError(
          `uses "${name}" without brackets at character ${position}; write ${name}(…).`,
          position,
        );
      }
      const hint = suggest(name, [...c.known, ...Object.keys(EXPRESSION_FUNCTIONS)]);
      const asked = hint ? ` Did you mean "${hint}"?` : ` Known names: ${[...c.known].join(', ')}.`;
      throw new ExpressionError(`has the unknown name "${name}" at character ${position}.${asked}`, position);
    }
    case 'UnaryExpression': {
      const u = e as jsep.UnaryExpression;
      const operator = u.operator as '-' | '+';
      // The parser binds a sign before a power; mathematics does it the other way round.
      return { type: 'unary', operator, of: check(u.argument, c, level + 1) };
    }
    case 'BinaryExpression': {
      const b = e as jsep.BinaryExpression;
      const operator = b.operator as BinaryOperator;
      if (!BINARY.includes(operator)) throw unexpected(String(b.operator), c, 'one of + − * / % ^');
      const left = check(b.left, c, level + 1);
      const right = check(b.right, c, level + 1);
      if (
        operator === '^' &&
        left.type === 'unary' &&
        b.left.type === 'UnaryExpression' &&
        !('bracketed' in b.left)
      ) {
        return {
          type: 'unary',
          operator: left.operator,
          of: { type: 'binary', operator, left: left.of, right },
        };
      }
      return { type: 'binary', operator, left, right };
    }
    case 'CallExpression': {
      const call = e as jsep.CallExpression;
      const name = String((call.callee as jsep.Identifier).name ?? '');
      const position = placeOf(name, c);
      if (!Object.hasOwn(EXPRESSION_FUNCTIONS, name)) {
        const hint = suggest(name, Object.keys(EXPRESSION_FUNCTIONS));
        throw new ExpressionError(
          `has the unknown function "${name}" at character ${position}.${hint ? ` Did you mean "${hint}"?` : ''}`,
          position,
        );
      }
      const { takes } = EXPRESSION_FUNCTIONS[name];
      const count = call.arguments.length;
      if (takes >= 0 ? count !== takes : count === 0) {
        const wanted = takes < 0 ? 'one or more values' : takes === 1 ? '1 value' : `${takes} values`;
        throw new ExpressionError(
          `gives "${name}" ${count} at character ${position}; it takes ${wanted}.`,
          position,
        );
      }
      return { type: 'call', name, of: call.arguments.map((a) => check(a, c, level + 1)) };
    }
    case 'Compound':
      throw new ExpressionError('has two parts with no operator between them; expected one operator.', 1);
    case 'MemberExpression':
      throw unexpected('.', c, 'a bare name');
    default:
      throw new ExpressionError(
        `has something that is not plain maths (${e.type}); expected numbers, names, brackets and + − * / % ^.`,
        1,
      );
  }
}

function unexpected(found: string, c: Checking, expected: string): ExpressionError {
  const position = Math.max(0, c.text.indexOf(found)) + 1;
  return new ExpressionError(`has "${found}" at character ${position}; expected ${expected}.`, position);
}

function placeOf(name: string, c: Checking): number {
  const from = c.places.get(name) ?? 0;
  const pattern = new RegExp(
    `(?<![A-Za-z0-9_])${name.replace(/[^A-Za-z0-9_]/g, '\\$&')}(?![A-Za-z0-9_])`,
    'g',
  );
  pattern.lastIndex = from;
  const match = pattern.exec(c.text);
  const at = match ? match.index : 0;
  c.places.set(name, at + Math.max(1, name.length));
  return at + 1;
}

/** The known name closest to a mistyped one: equal but for case, or within two letters; undefined when none is. */
export function suggest(name: string, known: readonly string[]): string | undefined {
  const lower = name.toLowerCase();
  let best: string | undefined;
  let bestDistance = name.length < 4 ? 2 : 3;
  for (const k of known) {
    const d = editDistance(lower, k.toLowerCase());
    if (d < bestDistance && d < name.length) {
      best = k;
      bestDistance = d;
    }
  }
  return best;
}

function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      next[j] = Math.min(row[j] + 1, next[j - 1] + 1, row[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1));
    }
    row = next;
  }
  return row[b.length];
}
