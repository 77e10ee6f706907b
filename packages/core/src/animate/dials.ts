import type { InputPort } from '../graph/node/definition.ts';
import { typedInput } from '../graph/node/typed.ts';
import type { DialValue } from '../project/animation.ts';
import type { InputValue, NumberSource } from '../project/fields.ts';
import type { NodeRecord, Project } from '../project/schema.ts';
import { timeScope } from '../expression/index.ts';
import { animatedAt } from '../scene/channels.ts';
import { keysIn, withKey } from '../scene/keys.ts';

/** What an input is turned by: a number, three, or yes and no; undefined where it is not turned by hand. */
function turnedBy({ default: standard }: InputPort): 'number' | 'triple' | 'toggle' | undefined {
  if (typeof standard === 'boolean') return 'toggle';
  if (Array.isArray(standard)) return 'triple';
  return typeof standard === 'number' ? 'number' : undefined;
}

export const isDialPort = (port: InputPort): boolean => turnedBy(port) !== undefined;

/** What stands in an input at a frame; undefined where it is no plain value, or its expression cannot be worked out. */
export function dialAt(project: Project, node: NodeRecord, port: InputPort, frame: number): DialValue | undefined {
  const value = typedInput(port, node);
  const scope = timeScope(frame, project.frameRate, project.range);
  const number = (part: NumberSource): number => (typeof part === 'number' ? part : animatedAt(part, scope));
  try {
    if (typeof value === 'boolean') return value;
    if (Array.isArray(value)) {
      const parts = value.map((part) => number(part as NumberSource));
      return parts.every(Number.isFinite) ? (parts as unknown as DialValue) : undefined;
    }
    if (value === undefined || typeof value === 'string') return undefined;
    const one = number(value as NumberSource);
    return Number.isFinite(one) ? one : undefined;
  } catch {
    return undefined;
  }
}

/** Whether a value can stand in an input. */
export function fitsDial(port: InputPort, value: DialValue): boolean {
  const given = typeof value === 'number' ? 'number' : typeof value === 'boolean' ? 'toggle' : 'triple';
  return turnedBy(port) === given;
}

/** An input with another value at a frame: as a key where there are keys or where `autoKey` sets them. */
export function dialWith(
  node: NodeRecord,
  port: InputPort,
  value: DialValue,
  now: DialValue | undefined,
  frame: number,
  autoKey: boolean,
): InputValue {
  const before = typedInput(port, node);
  const put = (part: unknown, wished: number, was: number | undefined): NumberSource => {
    const to = within(port, wished);
    const track = keysIn(part);
    return track || (autoKey && was !== to) ? { keys: withKey(track, frame, to) } : to;
  };
  if (typeof value === 'boolean') return value;
  if (typeof value === 'number') return put(before, value, typeof now === 'number' ? now : undefined);
  const parts: readonly unknown[] = Array.isArray(before) ? before : [];
  const was = Array.isArray(now) ? now : [];
  return value.map((v, i) => put(parts[i], v, was[i])) as unknown as InputValue;
}

/** A number as an input takes it: whole where it counts, within a range that cannot be passed. */
function within({ kind, range }: InputPort, wished: number): number {
  const fitting = kind === 'integer' ? Math.round(wished) : wished;
  return range?.hard ? Math.min(range.max, Math.max(range.min, fitting)) : fitting;
}
