import { BINARY_OPERATORS, type BinaryOperator } from './functions.ts';

/** Where a piece of text stands: offsets from 0, the end not included. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** Plain maths as a tree; names and functions are not checked yet. */
export type Tree = Span &
  (
    | { readonly type: 'number'; readonly value: number }
    | { readonly type: 'name'; readonly name: string }
    | { readonly type: 'part'; readonly of: Tree; readonly part: string }
    | { readonly type: 'minus'; readonly of: Tree }
    | {
        readonly type: 'binary';
        readonly operator: BinaryOperator;
        readonly left: Tree;
        readonly right: Tree;
      }
    | { readonly type: 'call'; readonly name: string; readonly of: readonly Tree[] }
  );

/** One line of a formula: `target = value`, `target.part = value`, or only a value. */
export interface Statement extends Span {
  readonly target?: Span & { readonly name: string; readonly part?: string };
  readonly value: Tree;
}

/** What is wrong with a piece of a text; the message goes on a sentence that begins with its name. */
export interface TextProblem extends Span {
  readonly message: string;
}

/** Why a text cannot be read; `position` counts characters from 1. */
export class ExpressionError extends Error {
  readonly position: number;
  constructor(
    message: string,
    readonly span: Span,
  ) {
    super(message);
    this.position = span.from + 1;
  }
}

/** How many levels of brackets and signs, and how long a chain of operations may be: what comes after recurses. */
const MOST_LEVELS = 100;
const MOST_IN_CHAIN = 1000;

type Token = Span & { readonly kind: 'number' | 'name' | 'sign' | 'line' | 'end'; readonly text: string };

const SIGNS = ['<=', '>=', '==', '!=', '+', '-', '*', '/', '%', '^', '<', '>', '(', ')', ',', '.', '=', ';'];
const NUMBER = /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/y;
const NAME = /[\p{L}_][\p{L}\p{M}\p{N}_]*/uy;

/** Splits a text into words and signs. Line ends count only where `lines` is set. @throws ExpressionError */
function tokenize(text: string, lines: boolean): Token[] {
  const tokens: Token[] = [];
  let at = 0;
  const add = (kind: Token['kind'], length: number) => {
    tokens.push({ kind, text: text.slice(at, at + length), from: at, to: at + length });
    at += length;
  };
  while (at < text.length) {
    const c = text[at];
    NUMBER.lastIndex = NAME.lastIndex = at;
    const number = NUMBER.exec(text)?.[0];
    const name = number === undefined ? NAME.exec(text)?.[0] : undefined;
    if (number !== undefined) add('number', number.length);
    else if (name !== undefined) add('name', name.length);
    else if (text.startsWith('//', at)) {
      while (at < text.length && text[at] !== '\n') at++;
    } else if (c === '\n' && lines) add('line', 1);
    else if (/\s/.test(c)) at++;
    else {
      const sign = SIGNS.find((s) => text.startsWith(s, at));
      // A letter beyond the basic plane is two units long; half of one would be no character.
      const length = (text.codePointAt(at) ?? 0) > 0xffff ? 2 : 1;
      if (!sign) {
        throw new ExpressionError(
          `cannot be read at character ${at + 1}: "${text.slice(at, at + length)}" has no meaning here.`,
          { from: at, to: at + length },
        );
      }
      add('sign', sign.length);
    }
  }
  tokens.push({ kind: 'end', text: '', from: text.length, to: text.length });
  return tokens;
}

/** How tightly operators bind; comparisons least, powers most. A minus sign stands between × and ^. */
const TIGHTNESS: Record<BinaryOperator, number> = {
  '<': 1,
  '<=': 1,
  '>': 1,
  '>=': 1,
  '==': 1,
  '!=': 1,
  '+': 2,
  '-': 2,
  '*': 3,
  '/': 3,
  '%': 3,
  '^': 5,
};
const SIGN_TIGHTNESS = 4;

const isOperator = (text: string): text is BinaryOperator => (BINARY_OPERATORS as readonly string[]).includes(text);

/** Operator-precedence parser (Pratt 1973) over the tokens of one text. */
class Parser {
  private at = 0;
  private level = 0;
  private brackets = 0;

  constructor(private readonly tokens: readonly Token[]) {}

  private get next(): Token {
    // Inside brackets a line end is only space.
    while (this.brackets > 0 && this.tokens[this.at].kind === 'line') this.at++;
    return this.tokens[this.at];
  }

  private take(): Token {
    const token = this.next;
    if (token.kind !== 'end') this.at++;
    return token;
  }

  private takeSign(sign: string): Token | undefined {
    return this.next.kind === 'sign' && this.next.text === sign ? this.take() : undefined;
  }

  get done(): boolean {
    return this.next.kind === 'end';
  }

  private refuse(expected: string): never {
    const { text, from, to, kind } = this.next;
    const found = kind === 'end' ? 'the end' : kind === 'line' ? 'the end of the line' : `"${text}"`;
    throw new ExpressionError(`cannot be read at character ${from + 1}: expected ${expected}, found ${found}.`, {
      from,
      to: Math.max(to, from + 1),
    });
  }

  private deeper<T>(read: () => T): T {
    if (++this.level > MOST_LEVELS) throw new ExpressionError(`nests deeper than ${MOST_LEVELS} levels.`, this.next);
    const result = read();
    this.level--;
    return result;
  }

  /** A value whose operators all bind more tightly than `over`. */
  value(over = 0): Tree {
    return this.deeper(() => {
      let left = this.operand();
      for (let n = 0; ; n++) {
        const { kind, text } = this.next;
        if (kind !== 'sign' || !isOperator(text) || TIGHTNESS[text] <= over) return left;
        if (n > MOST_IN_CHAIN) throw new ExpressionError('is too long a chain of operations.', this.next);
        this.take();
        // Powers bind from the right: 2^3^2 is 2^(3^2).
        const right = this.value(text === '^' ? TIGHTNESS[text] - 1 : TIGHTNESS[text]);
        left = { type: 'binary', operator: text, left, right, from: left.from, to: right.to };
      }
    });
  }

  private operand(): Tree {
    const sign = this.takeSign('-') ?? this.takeSign('+');
    if (sign) {
      const of = this.value(SIGN_TIGHTNESS);
      return sign.text === '-' ? { type: 'minus', of, from: sign.from, to: of.to } : of;
    }
    let tree = this.atom();
    while (this.takeSign('.')) {
      if (this.next.kind !== 'name') this.refuse('x, y or z');
      const part = this.take();
      tree = { type: 'part', of: tree, part: part.text, from: tree.from, to: part.to };
    }
    return tree;
  }

  private atom(): Tree {
    const token = this.next;
    if (token.kind === 'number') {
      this.take();
      const value = Number(token.text);
      if (!Number.isFinite(value)) throw new ExpressionError(`has a number that is too large, ${token.text}.`, token);
      return { type: 'number', value, from: token.from, to: token.to };
    }
    if (token.kind === 'name') {
      this.take();
      if (!this.takeSign('(')) return { type: 'name', name: token.text, from: token.from, to: token.to };
      this.brackets++;
      const of: Tree[] = [];
      if (!(this.next.kind === 'sign' && this.next.text === ')')) {
        do of.push(this.value());
        while (this.takeSign(','));
      }
      const end = this.close(of.length > 0 ? '"," or ")"' : '")"');
      return { type: 'call', name: token.text, of, from: token.from, to: end.to };
    }
    if (this.takeSign('(')) {
      this.brackets++;
      const inner = this.value();
      const end = this.close('")"');
      return { ...inner, from: token.from, to: end.to };
    }
    return this.refuse('a number, a name or "("');
  }

  private close(expected: string): Token {
    const end = this.takeSign(')');
    if (!end) this.refuse(expected);
    this.brackets--;
    return end as Token;
  }

  end(): void {
    if (!this.done) this.refuse('an operator or the end');
  }

  /** Past line ends and semicolons. */
  skipEnds(): void {
    while (this.next.kind === 'line' || (this.next.kind === 'sign' && this.next.text === ';')) this.take();
  }

  /** After something unreadable: on to the next line. */
  recover(): void {
    this.level = this.brackets = 0;
    while (this.next.kind !== 'end' && this.next.kind !== 'line' && this.next.text !== ';') this.take();
  }

  statement(): Statement {
    const first = this.value();
    const equals = this.takeSign('=');
    let statement: Statement;
    if (!equals) statement = { value: first, from: first.from, to: first.to };
    else {
      const named = first.type === 'part' ? first.of : first;
      if (named.type !== 'name') throw new ExpressionError('has something other than a name before "=".', first);
      const part = first.type === 'part' ? { part: first.part } : {};
      const value = this.value();
      statement = {
        target: { name: named.name, ...part, from: first.from, to: first.to },
        value,
        from: first.from,
        to: value.to,
      };
    }
    const { kind, text } = this.next;
    if (kind !== 'end' && kind !== 'line' && text !== ';') this.refuse('an operator or the end of the line');
    return statement;
  }
}

/** Reads one value: `0.8 + 0.4 * sin(seconds / 3)`. @throws ExpressionError with the place and what was expected. */
export function parseValue(text: string): Tree {
  const parser = new Parser(tokenize(text, false));
  const tree = parser.value();
  parser.end();
  return tree;
}

/**
 * Reads the lines of a formula. Lines end with the line or with `;`, go on inside brackets, and `//` begins a
 * remark. What cannot be read is told and the next line is read.
 */
export function parseStatements(text: string): { statements: Statement[]; problems: TextProblem[] } {
  const statements: Statement[] = [];
  const problems: TextProblem[] = [];
  const note = (error: unknown) => {
    if (!(error instanceof ExpressionError)) throw error;
    problems.push({ message: error.message, from: error.span.from, to: error.span.to });
  };
  let parser: Parser;
  try {
    parser = new Parser(tokenize(text, true));
  } catch (error) {
    note(error);
    return { statements, problems };
  }
  for (parser.skipEnds(); !parser.done; parser.skipEnds()) {
    try {
      statements.push(parser.statement());
    } catch (error) {
      note(error);
      parser.recover();
    }
  }
  return { statements, problems };
}
