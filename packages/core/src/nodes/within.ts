import type { NodeContext } from '../graph/node/definition.ts';

/** Numbers at inputs that only make sense within a range: one outside is moved to its end, and the card says so. */

/** A whole number at an input, kept within a range; what is not a number counts as the least. */
export const wholeWithin = (context: NodeContext, port: string, least: number, most = Infinity): number =>
  within(context, port, context.integer(port), least, most);

/** A number at an input, kept within a range. */
export const numberWithin = (context: NodeContext, port: string, least: number, most = Infinity): number =>
  within(context, port, context.number(port), least, most);

/** Any number of an input, kept within a range. */
export function within(context: NodeContext, port: string, value: number, least: number, most = Infinity): number {
  const used = value >= least ? (value <= most ? value : most) : value < least ? least : value;
  if (used === value || Number.isNaN(value)) return used;
  const why = most === Infinity ? `at least ${least} is needed, so` : `${least} to ${most} are possible, so`;
  context.report({ code: 'value-range', port: context.label(port), value, used, why, severity: 'warning' });
  return used;
}

/**
 * The two numbers that a range goes between, the smaller first: where they stand the other way round it is the same range
 * (DECISIONS 51). Where they are the same, what happens over the range happens at once there; the card says either.
 */
export function rangeBetween(context: NodeContext, from: string, to: string): readonly [number, number] {
  const [a, b] = [context.number(from), context.number(to)];
  const ports = { from: context.label(from), to: context.label(to) };
  if (a > b) context.report({ code: 'range-turned', ...ports, severity: 'note' });
  if (a === b) context.report({ code: 'range-step', ...ports, value: a, severity: 'note' });
  return a > b ? [b, a] : [a, b];
}
