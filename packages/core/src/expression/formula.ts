import type { Names } from '../project/fields.ts';
import { checkTaken, EXPRESSION_NAMES, TIME_NAMES, unknown, walkTree } from './evaluate.ts';
import { EXPRESSION_FUNCTIONS, suggest } from './functions.ts';
import { ExpressionError, parseStatements, type Span, type Statement, type TextProblem, type Tree } from './parse.ts';
import { ProgramBuilder, TooLongError, type Operation } from './program.ts';
import { FORMULA_FUNCTIONS, lowerCall, lowerOperator, type FormulaValue } from './lower.ts';

/** A formula as it stands in a node. */
export interface FormulaSource {
  readonly text: string;
  readonly inputs: Names['names'];
  readonly outputs: Names['names'];
}

/** Whether a name stands for one number or three per element. */
export type FormulaWidth = 1 | 3;

/** What is known where a formula is read. */
export interface FormulaSurroundings {
  /** Names the mesh gives, or undefined where there is no mesh. */
  readonly attributes?: ReadonlyMap<string, FormulaWidth>;
  /** The values of inputs and names of the mesh, where they are known already; else each becomes a lane. */
  readonly given?: (name: string, from: 'input' | 'mesh') => FormulaValue;
}

/** A formula made ready: its operations, which lanes they read, and what is wrong with it. */
export interface Formula {
  readonly operations: readonly Operation[];
  /** Lanes in the order of `Operation.lane`: declared inputs and names of the mesh. */
  readonly reads: readonly {
    readonly name: string;
    readonly width: FormulaWidth;
    readonly from: 'input' | 'mesh';
  }[];
  /** For each declared output, the operations that give its one or three numbers. */
  readonly results: readonly { readonly name: string; readonly values: readonly number[] }[];
  /** Empty when it can be run. */
  readonly problems: readonly TextProblem[];
}

export const MOST_FORMULA_CHARACTERS = 10_000;

/** Names that count elements; `count` is how many there are. */
export const ELEMENT_NAMES: readonly string[] = ['index', 'count'];
const FIXED_NAMES: readonly string[] = [...EXPRESSION_NAMES, ...ELEMENT_NAMES];
/** Ports of a Formula that are not its own. */
const PORT_NAMES = ['mesh'];

export const widthOf = (type: Names['names'][number]['type']): FormulaWidth => (type === 'number' ? 1 : 3);

const parsed = new Map<string, ReturnType<typeof parseStatements>>();
/** The lines of a text; those of the last few texts are remembered, since a playing graph asks at every frame. */
function statementsOf(text: string): ReturnType<typeof parseStatements> {
  let found = parsed.get(text);
  if (!found) {
    found = parseStatements(text);
    if (parsed.size > 200) parsed.clear();
    parsed.set(text, found);
  }
  return found;
}

/** Whether a formula can change with the frame: it names the time and declares no input of that name. */
export function formulaReadsTime(source: FormulaSource): boolean {
  const own = new Set(source.inputs.map((i) => i.name));
  let found = false;
  if (source.text.length > MOST_FORMULA_CHARACTERS) return false;
  for (const s of statementsOf(source.text).statements)
    walkTree(s.value, (t) => {
      found ||= t.type === 'name' && TIME_NAMES.includes(t.name) && !own.has(t.name);
    });
  return found;
}

/**
 * Reads a formula: lines of `name = value` from top to bottom. Names are declared inputs, what the mesh has, time,
 * and names given in lines above. With one output, a single line without `=` gives it. Never throws: what is wrong
 * is in `problems`.
 */
export function readFormula(source: FormulaSource, around: FormulaSurroundings, builder = new ProgramBuilder()): Formula {
  const problems: TextProblem[] = [];
  const reader = new FormulaReader(source, around, builder);
  const note = (error: unknown, where: Span) => {
    if (error instanceof ExpressionError) problems.push({ message: error.message, ...error.span });
    else if (error instanceof TooLongError) problems.push({ message: error.message, from: where.from, to: where.to });
    else throw error;
  };
  problems.push(...reader.checkDeclared());
  if (source.text.length > MOST_FORMULA_CHARACTERS) {
    const message = `is ${source.text.length} characters long; the most is ${MOST_FORMULA_CHARACTERS}.`;
    return {
      operations: builder.operations,
      reads: [],
      results: [],
      problems: [{ message, from: 0, to: source.text.length }],
    };
  }
  const { statements, problems: unreadable } = statementsOf(source.text);
  problems.push(...unreadable);
  for (const statement of statements) {
    try {
      reader.readLine(statement, statements.length);
    } catch (error) {
      note(error, statement);
    }
  }
  const results = source.outputs.map((o) => ({ name: o.name, values: reader.given.get(o.name) ?? [] }));
  if (problems.length === 0) {
    const empty = results.find((r) => r.values.length === 0);
    const end = { from: Math.max(0, source.text.length - 1), to: source.text.length };
    if (source.outputs.length === 0) problems.push({ message: 'has no output yet. Add one below it.', ...end });
    else if (source.text.trim() === '')
      problems.push({ message: `is empty. Type what "${source.outputs[0].name}" shall be.`, ...end });
    else if (empty) problems.push({ message: `gives "${empty.name}" no value. Add a line ${empty.name} = …`, ...end });
  }
  problems.sort((a, b) => a.from - b.from);
  return { operations: builder.operations, reads: reader.reads, results, problems };
}

class FormulaReader {
  readonly reads: { name: string; width: FormulaWidth; from: 'input' | 'mesh' }[] = [];
  /** Names given by lines so far. */
  readonly given = new Map<string, FormulaValue>();

  constructor(
    private readonly source: FormulaSource,
    private readonly around: FormulaSurroundings,
    private readonly builder: ProgramBuilder,
  ) {}

  /** Names of inputs and outputs: usable, and each once. */
  checkDeclared(): TextProblem[] {
    const start = { from: 0, to: 0 };
    const problems: TextProblem[] = [];
    const seen = new Set<string>();
    for (const { name } of [...this.source.inputs, ...this.source.outputs]) {
      const taken = FIXED_NAMES.includes(name) || PORT_NAMES.includes(name) || isFunction(name) || name === '__proto__';
      if (!/^[A-Za-z_][A-Za-z0-9_]*$/.test(name))
        problems.push({
          message: `has an input or output called "${name}". Use letters, digits and _.`,
          ...start,
        });
      else if (taken)
        problems.push({
          message: `has an input or output called "${name}", which already means something. Choose another name.`,
          ...start,
        });
      else if (seen.has(name)) problems.push({ message: `has two inputs or outputs called "${name}". Rename one.`, ...start });
      seen.add(name);
    }
    return problems;
  }

  readLine(line: Statement, lines: number): void {
    const value = this.value(line.value);
    const { outputs } = this.source;
    const target = line.target ?? (outputs.length === 1 && lines === 1 ? { name: outputs[0].name, ...span(line) } : undefined);
    if (!target) throw new ExpressionError('has a line that gives no name. Write name = … before it.', line);
    const { name } = target;
    if (this.source.inputs.some((i) => i.name === name))
      throw new ExpressionError(`changes "${name}", which is an input. Give the result another name.`, target);
    if (FIXED_NAMES.includes(name) || isFunction(name))
      throw new ExpressionError(`gives a value to "${name}", which already means something. Choose another name.`, target);
    const part = 'part' in target ? target.part : undefined;
    this.given.set(name, part === undefined ? this.fit(name, value, line) : this.withPart(name, part, value, target));
  }

  /** An output has the width it was declared with; a number given to a vector goes to all three axes. */
  private fit(name: string, value: FormulaValue, line: Statement): FormulaValue {
    const declared = this.source.outputs.find((o) => o.name === name);
    if (!declared) return value;
    const width = widthOf(declared.type);
    if (value.length === width) return value;
    if (width === 1)
      throw new ExpressionError(
        `gives "${name}" a vector, but it was declared a number. Take .x, .y or .z, or its length(…).`,
        line.value,
      );
    return [value[0], value[0], value[0]];
  }

  private withPart(name: string, part: string, value: FormulaValue, target: Span): FormulaValue {
    const before = this.name({ type: 'name', name, ...span(target) });
    if (before.length !== 3)
      throw new ExpressionError(`sets "${name}.${part}", but ${name} is a number and has no parts.`, target);
    if (value.length !== 1) throw new ExpressionError(`gives "${name}.${part}" a vector; one part takes a number.`, target);
    const at = partIndex(part, target);
    return before.map((v, i) => (i === at ? value[0] : v));
  }

  private value(tree: Tree): FormulaValue {
    switch (tree.type) {
      case 'number':
        return [this.builder.constant(tree.value)];
      case 'name':
        return this.name(tree);
      case 'minus':
        return this.value(tree.of).map((v) => this.builder.operate('negate', [v]));
      case 'binary':
        return lowerOperator(this.builder, tree.operator, this.value(tree.left), this.value(tree.right));
      case 'part': {
        const of = this.value(tree.of);
        const at = partIndex(tree.part, tree);
        if (of.length !== 3) throw new ExpressionError(`takes .${tree.part} of a number; only vectors have x, y and z.`, tree);
        return [of[at]];
      }
      case 'call':
        return this.call(tree);
    }
  }

  private call(tree: Extract<Tree, { type: 'call' }>): FormulaValue {
    const place = placeWords(tree, this.source.text);
    const f = Object.hasOwn(EXPRESSION_FUNCTIONS, tree.name)
      ? EXPRESSION_FUNCTIONS[tree.name]
      : Object.hasOwn(FORMULA_FUNCTIONS, tree.name)
        ? FORMULA_FUNCTIONS[tree.name]
        : undefined;
    if (!f) throw unknown('function', tree.name, place, functionNames(), tree);
    const optional = 'optional' in f ? f.optional : 0;
    if (tree.of.length < f.takes.length - optional || tree.of.length > f.takes.length) checkTaken(tree.name, f, tree, place);
    return lowerCall(
      this.builder,
      tree,
      tree.of.map((t) => this.value(t)),
    );
  }

  private name(tree: Extract<Tree, { type: 'name' }>): FormulaValue {
    const { name } = tree;
    const { attributes } = this.around;
    const given = this.given.get(name);
    if (given) return given;
    if (this.source.outputs.some((o) => o.name === name) && !attributes?.has(name)) {
      const hasInput = this.source.inputs.some((i) => i.name === name);
      if (!hasInput)
        throw new ExpressionError(
          `uses "${name}" ${placeWords(tree, this.source.text)} before a line has given it a value.`,
          tree,
        );
    }
    const input = this.source.inputs.find((i) => i.name === name);
    if (input) return this.lane(name, widthOf(input.type), 'input');
    if (name === 'index') return [this.builder.index()];
    if (name === 'pi' || name === 'e') return [this.builder.constant(name === 'pi' ? Math.PI : Math.E)];
    if (FIXED_NAMES.includes(name)) return [this.builder.parameter(name)];
    const width = attributes?.get(name);
    if (width) return this.lane(name, width, 'mesh');
    const place = placeWords(tree, this.source.text);
    if (isFunction(name)) throw new ExpressionError(`has "${name}" ${place} without its brackets; write ${name}(…).`, tree);
    if (this.source.text.includes(`${name} =`) || this.source.text.includes(`${name}=`))
      throw new ExpressionError(`uses "${name}" ${place} before a line has given it a value.`, tree);
    if (!attributes && (name === 'position' || name === 'normal' || name === 'restPosition'))
      throw new ExpressionError(
        `uses "${name}" ${place}, but no mesh is connected. Connect one to "mesh", or declare an input.`,
        tree,
      );
    const known = [...FIXED_NAMES, ...this.source.inputs.map((i) => i.name), ...(attributes?.keys() ?? []), ...this.given.keys()];
    const near = suggest(name, known);
    const there = [...this.source.inputs.map((i) => i.name), ...(attributes?.keys() ?? [])];
    throw new ExpressionError(
      `has the unknown name "${name}" ${place}.${near ? ` Did you mean "${near}"?` : there.length > 0 ? ` There are: ${there.join(', ')}.` : ' Declare it as an input below.'}`,
      tree,
    );
  }

  private lane(name: string, width: FormulaWidth, from: 'input' | 'mesh'): FormulaValue {
    const known = this.around.given?.(name, from);
    if (known) return known;
    let at = this.reads.findIndex((r) => r.name === name && r.from === from);
    if (at < 0) at = this.reads.push({ name, width, from }) - 1;
    return Array.from({ length: width }, (_, part) => this.builder.lane(at, part));
  }
}

const span = ({ from, to }: Span): Span => ({ from, to });
const isFunction = (name: string): boolean => Object.hasOwn(EXPRESSION_FUNCTIONS, name) || Object.hasOwn(FORMULA_FUNCTIONS, name);
const functionNames = (): string[] => [...Object.keys(EXPRESSION_FUNCTIONS), ...Object.keys(FORMULA_FUNCTIONS)];

function partIndex(part: string, where: Span): number {
  const at = part.length === 1 ? Math.max('xyz'.indexOf(part), 'rgb'.indexOf(part)) : -1;
  if (at < 0) throw new ExpressionError(`takes the part ".${part}"; there are .x, .y and .z (or .r, .g and .b).`, where);
  return at;
}

/** "in line 2 at character 5", or without the line where there is only one. */
function placeWords(where: Span, text: string): string {
  const before = text.slice(0, where.from).split('\n');
  const character = before[before.length - 1].length + 1;
  return text.includes('\n') ? `in line ${before.length} at character ${character}` : `at character ${character}`;
}
