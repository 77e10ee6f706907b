import { EXPRESSION_FUNCTIONS, parseExpression, type ExpressionTree } from './parse.ts';

/** Values of the names an expression uses. */
export type ExpressionScope = Readonly<Record<string, number>>;

/** The value of a tree; a name that the scope lacks is NaN. Division by zero follows IEEE (±∞ or NaN). */
export function evaluateTree(tree: ExpressionTree, scope: ExpressionScope): number {
  switch (tree.type) {
    case 'number':
      return tree.value;
    case 'name':
      return Object.hasOwn(scope, tree.name) ? scope[tree.name] : NaN;
    case 'unary':
      return tree.operator === '-' ? -evaluateTree(tree.of, scope) : evaluateTree(tree.of, scope);
    case 'binary': {
      const a = evaluateTree(tree.left, scope);
      const b = evaluateTree(tree.right, scope);
      switch (tree.operator) {
        case '+':
          return a + b;
        case '-':
          return a - b;
        case '*':
          return a * b;
        case '/':
          return a / b;
        case '%':
          return b === 0 ? NaN : a - b * Math.floor(a / b);
        case '^':
          return Math.pow(a, b);
      }
    }

    case 'call':
      return EXPRESSION_FUNCTIONS[tree.name].run(...tree.of.map((t) => evaluateTree(t, scope)));
  }
}

/** Whether a tree's value can change with the frame. */
export function dependsOnTime(tree: ExpressionTree): boolean {
  switch (tree.type) {
    case 'number':
      return false;
    case 'name':
      return tree.name === 'seconds' || tree.name === 'frame' || tree.name === 'fraction';
    case 'unary':
      return dependsOnTime(tree.of);
    case 'binary':
      return dependsOnTime(tree.left) || dependsOnTime(tree.right);
    case 'call':
      return tree.of.some(dependsOnTime);
  }
}

/** The names at a frame: `frame`, `seconds` since frame 0, `fraction` of the range (0 at first, 1 at last), pi, e. */
export function timeScope(
  frame: number,
  frameRate: number,
  range: { first: number; last: number },
): ExpressionScope {
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
