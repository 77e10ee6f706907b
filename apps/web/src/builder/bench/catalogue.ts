import {
  inputFor,
  outputFor,
  outputKinds,
  resolveGraph,
  settingsOf,
  type GraphRecord,
  type NodeDefinition,
  type PortKind,
  type PortRef,
  nodeOf,
} from '@umberfish/core';
import { catalogue } from '../../state/catalogue.ts';

/** A wire end in the air: nodes offered must have a port that fits it. */
export interface LooseEnd {
  readonly ref: PortRef;
  readonly side: 'output' | 'input';
  readonly kind: PortKind;
}

/** The kind of a port, as far as the graph tells. */
export function looseEnd(graph: GraphRecord, ref: PortRef, side: 'output' | 'input'): LooseEnd | undefined {
  const node = resolveGraph(catalogue(), graph).get(ref.node);
  const port = side === 'output' ? node?.outputs.find((p) => p.id === ref.port) : node?.inputs.find((p) => p.id === ref.port);
  if (!port) return undefined;
  return {
    ref,
    side,
    kind: side === 'output' ? (outputKinds(catalogue(), graph).get(`${ref.node}.${ref.port}`) ?? port.kind) : port.kind,
  };
}

/** The port of a new node of this type that a loose end would go to; undefined when none fits. */
export function fittingPort(definition: NodeDefinition, end: LooseEnd): string | undefined {
  const settings = settingsOf(definition, nodeOf(definition, [0, 0]));
  return end.side === 'output'
    ? inputFor(definition.inputs(settings), end.kind)
    : outputFor(definition.outputs(settings), end.kind);
}

/** Node types that fit a loose end; all when there is none. */
export function offered(end: LooseEnd | null): readonly NodeDefinition[] {
  const all = [...catalogue().values()].filter((d) => !d.way);
  return end ? all.filter((d) => fittingPort(d, end) !== undefined) : all;
}
