import { checkConnection, resolveGraph, type GraphRecord, type PortRef } from '@umberfish/core';
import { useSyncExternalStore } from 'react';
import { catalogue } from '../../state/catalogue.ts';

/** While a wire is dragged: by card, the ports that it could go to. */
type Fits = ReadonlyMap<string, ReadonlySet<string>>;

let fits: Fits | null = null;
const listeners = new Set<() => void>();
const tell = (next: Fits | null) => {
  fits = next;
  listeners.forEach((l) => l());
};

/** A wire is dragged from a port: what it fits is looked up once. */
export function dragBegan(graph: GraphRecord, from: PortRef, side: 'output' | 'input'): void {
  const found = new Map<string, ReadonlySet<string>>();
  for (const [node, { inputs, outputs }] of resolveGraph(catalogue(), graph)) {
    const ports = side === 'output' ? inputs : outputs;
    const ok = ports.filter(({ id }) => {
      const to = { node, port: id };
      return checkConnection(catalogue(), graph, ...((side === 'output' ? [from, to] : [to, from]) as [PortRef, PortRef])).ok;
    });
    found.set(node, new Set(ok.map((p) => p.id)));
  }
  found.set(from.node, new Set([from.port]));
  tell(found);
}

export const dragEnded = (): void => tell(null);

/** The ports of a card that the dragged wire could go to; undefined while none is dragged. */
export const useFits = (card: string): ReadonlySet<string> | undefined =>
  useSyncExternalStore(subscribe, () => (fits === null ? undefined : (fits.get(card) ?? NONE)));

const NONE: ReadonlySet<string> = new Set();
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};
