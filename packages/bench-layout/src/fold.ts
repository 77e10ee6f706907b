import { typedInput, type InputPort, type OutputPort, type ResolvedNode } from '@umberfish/core';

/** The ports of a card that are shown, and how many are folded away. */
export interface ShownPorts {
  readonly inputs: readonly InputPort[];
  readonly outputs: readonly OutputPort[];
  readonly folded: number;
}

/** What is particular to a card where it stands. */
export interface Around {
  /** Inputs with a wire, and outputs that somebody reads. */
  readonly wired: ReadonlySet<string>;
  readonly read: ReadonlySet<string>;
  /** Outputs that are probed or looked at. */
  readonly watched: ReadonlySet<string>;
}

/**
 * What matters on a card: inputs that have a wire, need one, or stand elsewhere than where they come; outputs that somebody
 * reads or looks at, and the first where nobody does. One alone is not folded away: it would take as much room to say so.
 */
export function shownPorts(node: ResolvedNode, { wired, read, watched }: Around): ShownPorts {
  const { record } = node;
  const inputs = node.inputs.filter((port) => {
    if (wired.has(port.id)) return true;
    const typed = record.inputs[port.id];
    if (typed === undefined) return !port.optional && typedInput(port, record) === undefined;
    return JSON.stringify(typed) !== JSON.stringify(port.default);
  });
  const used = node.outputs.filter((port) => read.has(port.id) || watched.has(port.id));
  const outputs = used.length > 0 ? used : node.outputs.slice(0, 1);
  const folded = node.inputs.length - inputs.length + (node.outputs.length - outputs.length);
  const isWall = node.definition?.way !== undefined;
  return folded < 2 || isWall ? { inputs: node.inputs, outputs: node.outputs, folded: 0 } : { inputs, outputs, folded };
}
