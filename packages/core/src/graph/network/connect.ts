import { usedKey } from '../../project/modules.ts';
import type { GraphRecord, WireRecord } from '../../project/schema.ts';
import type { Catalogue } from '../node/catalogue.ts';
import { accepts, KIND_WORDS, spreadsToAxes } from '../node/kinds.ts';
import { problemWords } from '../node/problems.ts';
import { nodeTitle, outputKinds, resolveGraph, type PortRef } from './resolve.ts';
import type { ValueKind } from '../node/values.ts';

/** Whether a wire may be drawn, and in words why not. */
export type ConnectionCheck = { ok: true } | { ok: false; reason: string };

/** Checks a wire from an output to an input of the same graph: both exist, kinds fit, and no loop closes. */
export function checkConnection(catalogue: Catalogue, graph: GraphRecord, from: PortRef, to: PortRef): ConnectionCheck {
  const nodes = resolveGraph(catalogue, graph);
  const source = nodes.get(from.node);
  const target = nodes.get(to.node);
  if (!source || !target) return { ok: false, reason: 'That node is no longer there.' };
  const wrong = wrongWire(catalogue, graph, { from, to });
  if (wrong) return { ok: false, reason: wrong };
  if (reaches(graph, to.node, from.node)) {
    return {
      ok: false,
      reason: `That would close a loop: ${nodeTitle(target)} already leads to ${nodeTitle(source)}.`,
    };
  }
  return { ok: true };
}

/** Why a wire cannot carry anything, in a sentence: an end of it is gone, or the kinds do not fit; else undefined. */
export function wrongWire(
  catalogue: Catalogue,
  graph: GraphRecord,
  { from, to }: Pick<WireRecord, 'from' | 'to'>,
): string | undefined {
  const nodes = resolveGraph(catalogue, graph);
  const [source, target] = [nodes.get(from.node), nodes.get(to.node)];
  const out = source?.outputs.find((p) => p.id === from.port);
  const input = target?.inputs.find((p) => p.id === to.port);
  if (!input)
    return `A wire leads to "${to.port}", which is no longer an input of ${target ? nodeTitle(target) : 'a node that is gone'}. Remove it.`;
  if (!source || !out)
    return problemWords({
      code: 'output-gone',
      port: input.label,
      node: source ? nodeTitle(source) : 'a node that is gone',
      output: from.port,
    });
  const kind = outputKinds(catalogue, graph).get(`${from.node}.${from.port}`) ?? out.kind;
  // What a node makes that this version does not know is not known either.
  if (!source.definition || !target?.definition || accepts(input.kind, kind)) return undefined;
  return problemWords({ code: 'input-kind', port: input.label, got: KIND_WORDS[kind], needs: KIND_WORDS[input.kind] });
}

/** Whether values of `start` reach `end` along wires (a node reaches itself). */
export const reaches = (graph: GraphRecord, start: string, end: string): boolean => alongWires(graph, start, 'from').has(end);

/** All nodes that wires lead to from a node, itself too; or, walked from their other end, all that lead to it. */
function alongWires(graph: GraphRecord, start: string, end: 'from' | 'to'): ReadonlySet<string> {
  const other = end === 'from' ? 'to' : 'from';
  const next = new Map<string, string[]>();
  for (const w of graph.wires) {
    const known = next.get(w[end].node);
    if (known) known.push(w[other].node);
    else next.set(w[end].node, [w[other].node]);
  }
  const seen = new Set<string>([start]);
  // What is added meanwhile is walked too.
  for (const id of seen) for (const n of next.get(id) ?? []) seen.add(n);
  return seen;
}

/**
 * The ports at which a wire from a port may end, by node: what `checkConnection` would allow, looked up for all at once.
 * @param side what the port is: an output goes to inputs, an input takes outputs
 */
export function portsThatFit(
  catalogue: Catalogue,
  graph: GraphRecord,
  ref: PortRef,
  side: 'output' | 'input',
): ReadonlyMap<string, ReadonlySet<string>> {
  const isOutput = side === 'output';
  // A wire to what leads here already, or from what this leads to, would close a loop.
  const closing = alongWires(graph, ref.node, isOutput ? 'to' : 'from');
  return new Map(
    [...resolveGraph(catalogue, graph)].map(([node, { inputs, outputs }]) => {
      const ports: readonly { id: string }[] = closing.has(node) ? [] : isOutput ? inputs : outputs;
      const fitting = ports.filter(({ id: port }) => {
        const ends = isOutput ? { from: ref, to: { node, port } } : { from: { node, port }, to: ref };
        return wrongWire(catalogue, graph, ends) === undefined;
      });
      return [node, new Set(fitting.map((f) => f.id))];
    }),
  );
}

/** What an evaluation found about a wire: what came along it, and whether its target made more than single values of it. */
export interface WireSeen {
  readonly form: string;
  readonly kind: string;
  readonly makesMany: boolean;
}

/**
 * What a wire does to the value on it, to be written beside it; undefined when it is plain. What was evaluated counts more
 * than what could come: three numbers are not spread, and one value into a node that makes one is not either.
 */
export function wireNote(catalogue: Catalogue, graph: GraphRecord, wire: WireRecord, seen?: WireSeen): string | undefined {
  const target = resolveGraph(catalogue, graph).get(wire.to.node);
  const input = target?.inputs.find((p) => p.id === wire.to.port);
  const kind = seen?.kind ?? outputKinds(catalogue, graph).get(`${wire.from.node}.${wire.from.port}`);
  if (!input || !kind || kind === 'value') return undefined;
  if (spreadsToAxes(effectiveKind(catalogue, graph, wire), kind as ValueKind)) return '1 → xyz';
  if (seen?.form !== 'single' || !seen.makesMany || input.uniform || kind === 'mesh' || kind === 'matrix') return undefined;
  return targetHasColumns(catalogue, graph, wire) ? '1 → column' : undefined;
}

/** A `value` input counts as a vector when the node turns all its operands into vectors. */
function effectiveKind(catalogue: Catalogue, graph: GraphRecord, wire: WireRecord) {
  const target = resolveGraph(catalogue, graph).get(wire.to.node);
  const input = target?.inputs.find((p) => p.id === wire.to.port);
  if (!target || !input || input.kind !== 'value') return input?.kind ?? 'value';
  const output = target.outputs.find((o) => o.kind === 'value');
  return (output && outputKinds(catalogue, graph).get(`${wire.to.node}.${output.id}`)) ?? 'value';
}

function targetHasColumns(catalogue: Catalogue, graph: GraphRecord, wire: WireRecord): boolean {
  const target = resolveGraph(catalogue, graph).get(wire.to.node);
  // What a module does with a place it is given, its wall does not tell.
  if (!target || usedKey(target.record) !== undefined) return false;
  return target.definition?.elements !== undefined || target.inputs.some((p) => p.kind === 'mesh');
}
