import { FIELD_FUNCTIONS, OPERATORS, suggest, takesCount } from './functions.ts';
import { ExpressionError, parseValue, type Tree } from './parse.ts';

/** Names an expression may use, and what they stand for. */
export const EXPRESSION_NAMES = ['seconds', 'frame', 'fraction', 'pi', 'e'] as const;
/** Those of them that change with the frame. */
export const TIME_NAMES: readonly string[] = ['seconds', 'frame', 'fraction'];

/** Values of the names an expression uses. */
export type ExpressionScope = Readonly<Record<string, number>>;

const MOST_CHARACTERS = 2000;

/**
 * Reads plain maths with bare names for a number field: `0.8 + 0.4 * sin(seconds / 3)`. `^` is power and binds from
 * the right, more tightly than a minus sign before it (−2^2 is −4).
 * @param extraNames names to allow besides `EXPRESSION_NAMES`.
 * @throws ExpressionError with the position and what was expected.
 */
export function parseExpression(text: string, extraNames: readonly string[] = []): Tree {
  if (text.trim() === '')
    throw new ExpressionError('is empty. Type a number or a sum such as 2 * sin(seconds).', {
      from: 0,
      to: 0,
    });
  if (text.length > MOST_CHARACTERS) {
    throw new ExpressionError(`is ${text.length} characters long; the most is ${MOST_CHARACTERS}.`, {
      from: MOST_CHARACTERS - 1,
      to: text.length,
    });
  }
  const tree = parseValue(text);
  checkNames(tree, [...EXPRESSION_NAMES, ...extraNames]);
  return tree;
}

function checkNames(tree: Tree, known: readonly string[]): void {
  const place = `at character ${tree.from + 1}`;
  switch (tree.type) {
    case 'number':
      return;
    case 'name': {
      if (known.includes(tree.name)) return;
      if (Object.hasOwn(FIELD_FUNCTIONS, tree.name))
        throw new ExpressionError(`has "${tree.name}" ${place} without its brackets; write ${tree.name}(…).`, tree);
      throw unknown('name', tree.name, place, known, tree);
    }
    case 'part':
      throw new ExpressionError(`has "." ${place}; expected a bare name: numbers have no parts.`, tree);
    case 'minus':
      return checkNames(tree.of, known);
    case 'binary':
      checkNames(tree.left, known);
      return checkNames(tree.right, known);
    case 'call': {
      if (!Object.hasOwn(FIELD_FUNCTIONS, tree.name))
        throw unknown('function', tree.name, place, Object.keys(FIELD_FUNCTIONS), tree);
      checkTaken(tree.name, FIELD_FUNCTIONS[tree.name], tree, place);
      for (const t of tree.of) checkNames(t, known);
    }
  }
}

/** The error for a name that is not known, with the one that was likely meant. */
export function unknown(what: string, name: string, place: string, known: readonly string[], tree: Tree) {
  const hint = suggest(name, known);
  return new ExpressionError(`has the unknown ${what} "${name}" ${place}.${hint ? ` Did you mean "${hint}"?` : ''}`, tree);
}

/** @throws ExpressionError when a function is given more or fewer values than it takes. */
export function checkTaken(
  name: string,
  f: { takes: readonly string[]; more?: boolean },
  call: Extract<Tree, { type: 'call' }>,
  place: string,
): void {
  if (takesCount(f, call.of.length)) return;
  const { length } = f.takes;
  const wanted = f.more ? 'one or more values' : `${length} ${length === 1 ? 'value' : 'values'} (${f.takes.join(', ')})`;
  throw new ExpressionError(`gives "${name}" ${call.of.length} ${place}; it takes ${wanted}.`, call);
}

/** The value of a checked tree; a name that the scope lacks is NaN. Division by zero follows IEEE (±∞ or NaN). */
export function evaluateTree(tree: Tree, scope: ExpressionScope): number {
  switch (tree.type) {
    case 'number':
      return tree.value;
    case 'name':
      return Object.hasOwn(scope, tree.name) ? scope[tree.name] : NaN;
    case 'minus':
      return -evaluateTree(tree.of, scope);
    case 'binary':
      return OPERATORS[tree.operator](evaluateTree(tree.left, scope), evaluateTree(tree.right, scope));
    case 'call':
      return FIELD_FUNCTIONS[tree.name].run(...tree.of.map((t) => evaluateTree(t, scope)));
    case 'part':
      return NaN;
  }
}

/** Calls `visit` for a tree and everything in it. */
export function walkTree(tree: Tree, visit: (t: Tree) => void): void {
  visit(tree);
  if (tree.type === 'minus' || tree.type === 'part') walkTree(tree.of, visit);
  else if (tree.type === 'binary') {
    walkTree(tree.left, visit);
    walkTree(tree.right, visit);
  } else if (tree.type === 'call') for (const t of tree.of) walkTree(t, visit);
}

/** Whether a tree's value can change with the frame. */
export function dependsOnTime(tree: Tree): boolean {
  let found = false;
  walkTree(tree, (t) => {
    found ||= t.type === 'name' && TIME_NAMES.includes(t.name);
  });
  return found;
}

/** The names at a frame: `frame`, `seconds` since frame 0, `fraction` of the range (0 at first, 1 at last), pi, e. */
export function timeScope(frame: number, frameRate: number, range: { first: number; last: number }): ExpressionScope {
  const span = range.last - range.first;
  return {
    frame,
    seconds: frame / frameRate,
    fraction: span > 0 ? (frame - range.first) / span : 0,
    pi: Math.PI,
    e: Math.E,
  };
}

/** Reads and evaluates in one step. @throws ExpressionError as `parseExpression`. */
export function evaluateExpression(text: string, scope: ExpressionScope): number {
  return evaluateTree(parseExpression(text), scope);
}
