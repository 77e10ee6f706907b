import { jointNamed, type Chain } from '../../chains/chain.ts';
import type {
  FacetRef,
  InputPort,
  NodeContext,
  OutputPort,
  SentenceContext,
  Setting,
  Settings,
} from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import type { Single } from '../../graph/node/values.ts';
import type { Matrix } from '../../maths/matrix.ts';
import type { Vec3 } from '../../maths/vector.ts';
import type { SettingValue } from '../../project/fields.ts';
import { text } from '../ports.ts';

/** What nodes of chains share. */
export const CHAIN_IN: InputPort = { id: 'chain', label: 'chain', kind: 'chain', help: 'The joints to work on.' };
export const CHAIN_OUT: OutputPort = { id: 'chain', label: 'chain', kind: 'chain', help: 'The joints, in the same order.' };

/** A joint of the chain at an input, by name. */
export const jointSetting = (id: string, label: string, help: string): Setting => ({
  id,
  label,
  type: 'text',
  default: '',
  jointOf: 'chain',
  help,
});

/**
 * The number of the joint that a setting names. @param fallback what an empty setting stands for; none: it must be set.
 * @throws NodeError when there is none of that name
 */
export function needJoint(context: NodeContext, chain: Chain, setting: Setting, fallback?: number): number {
  const name = text(context.settings, setting.id).trim();
  if (name === '') {
    if (fallback !== undefined && fallback >= 0) return fallback;
    throw new NodeError({ code: 'joint-unset', setting: setting.label });
  }
  const found = jointNamed(chain, name);
  if (found < 0) throw new NodeError({ code: 'joint-missing', name, known: chain.names });
  const count = chain.names.filter((n) => n === name).length;
  if (count > 1) context.report({ code: 'joint-names', name, count, severity: 'warning' });
  return found;
}

/** The last joint of a chain as one follows the first of those that hang under each. */
export function lastJoint(chain: Chain): number {
  let at = 0;
  while (at + 1 < chain.ends[at]) at++;
  return at;
}

/** An object that stands for a place, where no wire brings one. */
export const placeSetting = (id: string, label: string, help: string): Setting => ({
  ...{ id, label, type: 'object', takes: 'any', optional: true },
  help: `${help} What comes by a wire counts before it.`,
});

/** What a node reads of the objects that stand for its places. */
export const readsPlaces = (s: Settings, ...settings: readonly Setting[]): FacetRef[] =>
  settings.flatMap(({ id }) => (typeof s[id] === 'string' && s[id] ? [{ object: s[id], facet: 'world' }] : []));

/**
 * A place at an input: a point, or a matrix, whose turn is given too; without a wire that of the object in a setting.
 * Undefined where there is neither. @throws NodeError when the object is not there
 */
export function placeAt(
  context: NodeContext,
  port: string,
  setting?: Setting,
): { place: Vec3; turn: Readonly<Matrix> | undefined } | undefined {
  const value = context.input(port);
  if (!value && setting && context.settings[setting.id]) {
    const { world } = context.object(setting.id);
    return { place: [world[12], world[13], world[14]], turn: world };
  }
  if (!value) return undefined;
  if (value.form !== 'single')
    throw new NodeError({ code: 'needs-single', port, count: 'count' in value ? (value.count as number) : 0 });
  const { data } = value as Single;
  if (value.kind === 'matrix') return { place: [data[12], data[13], data[14]], turn: data };
  return { place: data.length === 3 ? [data[0], data[1], data[2]] : [data[0], data[0], data[0]], turn: undefined };
}

export const placePort = (id: string, label: string, help: string, extras: Partial<InputPort> = {}): InputPort => ({
  id,
  label,
  kind: 'place',
  unit: 'm',
  help: `${help} A point, or a matrix (of an object, or a joint).`,
  ...extras,
});

/** Joints from the root down, for sentences. */
export const namesFor = (s: Settings, ...settings: readonly Setting[]): string =>
  settings
    .map((setting) => text(s, setting.id))
    .filter(Boolean)
    .join(' → ') || 'no joints yet';

/** What something is aimed at, for sentences. */
export const towards = (c: SentenceContext, port: string, object?: SettingValue): string =>
  c.source?.(port) ?? c.objectName(object ?? null) ?? 'no target yet';

/** No chain without joints. */
export function needChain(context: NodeContext, port = 'chain'): Chain {
  const chain = context.chain(port);
  if (chain.count === 0) throw new NodeError({ code: 'chain-empty', object: port });
  return chain;
}
