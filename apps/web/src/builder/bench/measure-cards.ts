import type { useStoreApi } from '@xyflow/react';

type Flow = ReturnType<typeof useStoreApi>;
type Cards = Parameters<ReturnType<Flow['getState']>['updateNodeInternals']>[0];

/** Cards that wait for being measured, of each flow: each component has an object of its own for it, but all one function. */
const waiting = new WeakMap<Flow['getState'], Cards>();

/**
 * Has the ports of a card measured again, with those of all cards that ask in the same moment: the flow tells everybody who
 * follows it after each measuring, so that one by one thousands of cards would take thousands of rounds.
 */
export function measureCard(flow: Flow, id: string, nodeElement: HTMLDivElement): void {
  let cards = waiting.get(flow.getState);
  if (!cards) {
    const all: Cards = new Map();
    cards = all;
    waiting.set(flow.getState, all);
    queueMicrotask(() => {
      waiting.delete(flow.getState);
      flow.getState().updateNodeInternals(all);
    });
  }
  cards.set(id, { id, nodeElement, force: true });
}
