import {
  ProgramBuilder,
  runPlainly,
  makeProgramRunner,
  type FormulaValue,
  type ProgramOutput,
  type ProgramRunner,
} from '../../expression/index.ts';
import { CHUNK, WIDTH, type LaneSource, type Link, type ProgramLink } from './links.ts';

/**
 * Links that are programs and follow each other become one program: values between them stay in registers, rounded to
 * Float32 as if they had been stored (DECISIONS 15).
 */
export interface Segment {
  /** Lanes to be read, with the numbers each has per element. */
  readonly lanes: readonly { readonly source: LaneSource; readonly width: 1 | 3 }[];
  /** What is stored, in the order of the runner's outputs. */
  readonly stored: readonly { readonly link: ProgramLink; readonly output: number }[];
  /** Computes a chunk; false when some value of some link was not finite. */
  readonly run: ProgramRunner;
  /** Like `run`, but stores every output of every link, in order: to find out who made what is not finite. */
  readonly runAll: () => ProgramRunner;
  /** All outputs of all links, in the order of `runAll`. */
  readonly all: readonly { readonly link: ProgramLink; readonly output: number }[];
  /** Share of the operations of each link. */
  readonly shares: readonly number[];
}

/** Fewer elements than this are computed plainly: making machine code would cost more than it saves. */
const FEW = 64;

/** Makes one program of links. @param isStored whether an output is read outside, or kept */
export function makeSegment(
  links: readonly ProgramLink[],
  isStored: (link: Link) => boolean,
  parameters: Readonly<Record<string, number>>,
  count: number,
): Segment {
  const b = new ProgramBuilder(Infinity);
  const lanes: { source: LaneSource; width: 1 | 3 }[] = [];
  const given: Record<string, number> = { ...parameters };
  const results = new Map<Link, FormulaValue[]>();
  const shares: number[] = [];
  const inputOf = (source: LaneSource, width: 1 | 3): FormulaValue => {
    const own = source.from === 'link' ? results.get(source.link)?.[source.output] : undefined;
    let values = own;
    if (!values && source.from === 'value' && source.value.form === 'single') {
      // A single is rounded as a column of it would be.
      values = Array.from(source.value.data, (v) => {
        const name = `${Object.keys(given).length}`;
        given[name] = Math.fround(v);
        return b.parameter(name);
      });
    }
    if (!values) {
      const wide = widthOf(source);
      let at = lanes.findIndex((l) => sameSource(l.source, source));
      if (at < 0) at = lanes.push({ source, width: wide }) - 1;
      values = Array.from({ length: wide }, (_, part) => b.lane(at, part));
    }
    return values.length < width ? Array.from({ length: width }, () => (values as FormulaValue)[0]) : values;
  };
  for (const link of links) {
    const before = b.operations.length;
    const inputs = link.plan.inputs.map((input, i) => inputOf(link.sources[i], WIDTH[input.lane]));
    const outputs = link.program(b, inputs);
    results.set(
      link,
      outputs.map((v) => v.map((o) => b.operate('single', [o]))),
    );
    shares.push(b.operations.length - before);
  }
  const outputsOf = (chosen: Segment['stored']): ProgramOutput[] =>
    chosen.flatMap(({ link, output }, lane) => {
      const values = (results.get(link) as FormulaValue[])[output];
      return values.map((operation, part) => ({ operation, lane, part, width: values.length as 1 | 3 }));
    });
  const all = links.flatMap((link) => link.plan.outputs.map((_, output) => ({ link, output })));
  const stored = all.filter((o) => isStored(o.link));
  const make = (chosen: Segment['stored'], checks: readonly number[]): ProgramRunner => {
    const widths = lanes.map(({ width }, at) => ({ at, width }));
    if (count < FEW) return runPlainly(b.operations, outputsOf(chosen), given, widths, checks);
    return makeProgramRunner(b.operations, outputsOf(chosen), given, widths, CHUNK, checks);
  };
  const checks = [...new Set([...results.values()].flat(2))];
  let everything: ProgramRunner | undefined;
  const total = shares.reduce((sum, s) => sum + s, 0);
  return {
    lanes,
    stored,
    all,
    run: make(stored, checks),
    runAll: () => (everything ??= make(all, [])),
    shares: shares.map((s) => (total > 0 ? s / total : 1 / links.length)),
  };
}

/** Numbers per element of what a lane is filled from. */
export const widthOf = (source: LaneSource): 1 | 3 =>
  source.from === 'link' ? WIDTH[source.link.plan.outputs[source.output].lane] : source.value.kind === 'vector' ? 3 : 1;

const sameSource = (a: LaneSource, b: LaneSource): boolean =>
  a.from === 'link' ? b.from === 'link' && a.link === b.link && a.output === b.output : b.from === 'value' && a.value === b.value;
