import { portsThatFit, type GraphRecord, type PortRef } from '@umberfish/core';
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
  tell(new Map(portsThatFit(catalogue(), graph, from, side)).set(from.node, new Set([from.port])));
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
