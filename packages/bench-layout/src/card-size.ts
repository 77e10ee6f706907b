import type { ResolvedNode } from '@umberfish/core';
import { shownPorts, type Around } from './fold.ts';

/** All cards are so wide (pixels). */
export const CARD_WIDTH = 160;

/** A folded section takes so much room. */
export const FOLDED_SECTION = { width: 224, height: 64 };

/** Heights of the parts of a card (pixels), as its style sets them. */
const HEAD = 30;
const SENTENCE = 25;
const ROW = 18;
const PADDING = 8;
const RESPONSE = 44;
const PROBE = 66;

/** How high a card is, and where its ports are, from its top. */
export interface CardShape {
  readonly height: number;
  readonly inputs: ReadonlyMap<string, number>;
  readonly outputs: ReadonlyMap<string, number>;
}

/** The shape of a card that is not picked, without messages: as high as it stands when nothing is wrong. */
export function cardShape(node: ResolvedNode, around: Around): CardShape {
  const { inputs, outputs } = shownPorts(node, around);
  const drawsResponse = node.record.type === RESPONSE_TYPE;
  let y = HEAD + SENTENCE + (drawsResponse ? RESPONSE : 0) + PADDING / 2;
  const rows = (ports: readonly { id: string }[]) =>
    new Map(
      ports.map((p) => {
        y += ROW;
        return [p.id, y - ROW / 2] as const;
      }),
    );
  const found = { inputs: rows(inputs), outputs: rows(outputs) };
  const shows = node.definition?.shows ? ROW : 0;
  return { ...found, height: y + shows + PADDING / 2 + node.record.probes.length * PROBE };
}

/** The node whose response is drawn on its card. */
const RESPONSE_TYPE = 'response';
