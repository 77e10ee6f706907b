import dagre from '@dagrejs/dagre';
import type { GraphRecord } from '@umberfish/core';
import { CARD_WIDTH, sectionOf } from './flow.ts';
import { FOLDED_SIZE } from './section-box.ts';

type Place = readonly [number, number];

/** Room round the cards of a section, its title and note included. */
const SECTION_MARGIN = 16;
const SECTION_HEAD = 34;
const NOTE_LINE = 17;

interface Item {
  readonly id: string;
  readonly width: number;
  readonly height: number;
}

/** Room between cards of a column; how many that have no wire stand in a row, so far apart that none look connected. */
const GAP = 28;
const LONE_ROW = 4;
const LONE_GAP = 56;

/** Columns from left to right along the wires, cards without any in rows below; top left corners, from 0, 0. */
function layOut(items: readonly Item[], wires: readonly (readonly [string, string])[]) {
  const wired = new Set(wires.filter(([from, to]) => from !== to).flat());
  const result = columns(
    items.filter((i) => wired.has(i.id)),
    wires,
  );
  const lone = items.filter((i) => !wired.has(i.id));
  for (let row = 0; row < lone.length; row += LONE_ROW) {
    const top = result.height === 0 ? 0 : result.height + GAP;
    let left = 0;
    for (const i of lone.slice(row, row + LONE_ROW)) {
      result.places.set(i.id, [left, top]);
      result.width = Math.max(result.width, left + i.width);
      result.height = Math.max(result.height, top + i.height);
      left += i.width + LONE_GAP;
    }
  }
  return result;
}

function columns(items: readonly Item[], wires: readonly (readonly [string, string])[]) {
  const layout = new dagre.graphlib.Graph();
  layout.setGraph({ rankdir: 'LR', nodesep: GAP, ranksep: 46, marginx: 0, marginy: 0 });
  layout.setDefaultEdgeLabel(() => ({}));
  for (const i of items) layout.setNode(i.id, { width: i.width, height: i.height });
  for (const [from, to] of wires) if (from !== to) layout.setEdge(from, to);
  dagre.layout(layout);
  const places = new Map<string, Place>();
  let width = 0;
  let height = 0;
  for (const i of items) {
    const at = layout.node(i.id) as { x: number; y: number };
    places.set(i.id, [Math.round(at.x - i.width / 2), Math.round(at.y - i.height / 2)]);
    width = Math.max(width, at.x + i.width / 2);
    height = Math.max(height, at.y + i.height / 2);
  }
  return { places, width, height };
}

/**
 * Places all nodes in columns along the wires, as tidy as can be; sizes as measured. Sections are laid out by
 * themselves and then placed as wholes, so that nothing stands in a box it does not belong to.
 */
export function tidyPositions(graph: GraphRecord, heights: ReadonlyMap<string, number>): Map<string, Place> {
  const sections = sectionOf(graph);
  const cardOf = (id: string): Item => ({ id, width: CARD_WIDTH, height: heights.get(id) ?? 120 });
  const wires = graph.wires.map((w): [string, string] => [w.from.node, w.to.node]);
  // 1. Each section by itself.
  const inside = new Map(
    graph.sections.map((s) => {
      const own = wires.filter(([a, b]) => s.nodes.includes(a) && s.nodes.includes(b));
      return [s.id, layOut(s.nodes.map(cardOf), own)];
    }),
  );
  const headOf = (id: string) => {
    const s = graph.sections.find((x) => x.id === id);
    const width = (inside.get(id)?.width ?? 0) + 2 * SECTION_MARGIN;
    const lines = s?.note ? s.note.split('\n').reduce((n, l) => n + Math.max(1, Math.ceil((l.length * 6) / width)), 0) : 0;
    return SECTION_HEAD + lines * NOTE_LINE;
  };
  // 2. Sections and lone cards together.
  const whole = layOut(
    [
      ...graph.sections.map((s): Item => {
        if (s.folded) return { id: s.id, ...FOLDED_SIZE };
        const { width, height } = inside.get(s.id) ?? { width: 0, height: 0 };
        return {
          id: s.id,
          width: width + 2 * SECTION_MARGIN,
          height: height + 2 * SECTION_MARGIN + headOf(s.id),
        };
      }),
      ...graph.nodes.filter((n) => !sections.has(n.id)).map((n) => cardOf(n.id)),
    ],
    wires.map(([a, b]) => [sections.get(a)?.id ?? a, sections.get(b)?.id ?? b]),
  );
  // 3. Cards where their section came to stand; those of a folded one are centred on it.
  return new Map(
    graph.nodes.map((n) => {
      const s = sections.get(n.id);
      const [x, y] = whole.places.get(s?.id ?? n.id) ?? [0, 0];
      if (!s) return [n.id, [x, y]];
      const own = inside.get(s.id);
      const [dx, dy] = own?.places.get(n.id) ?? [0, 0];
      if (s.folded && own) {
        const left = x + (FOLDED_SIZE.width - own.width) / 2;
        const top = y + (FOLDED_SIZE.height - own.height) / 2;
        return [n.id, [Math.round(left + dx), Math.round(top + dy)]];
      }
      return [n.id, [x + SECTION_MARGIN + dx, y + headOf(s.id) + SECTION_MARGIN + dy]];
    }),
  );
}

/** The box round cards at their places. */
export function boxRound(places: ReadonlyMap<string, Place>, heights: ReadonlyMap<string, number>) {
  const all = [...places];
  const x = Math.min(...all.map(([, p]) => p[0]));
  const y = Math.min(...all.map(([, p]) => p[1]));
  const right = Math.max(...all.map(([, p]) => p[0] + CARD_WIDTH));
  const bottom = Math.max(...all.map(([id, p]) => p[1] + (heights.get(id) ?? 120)));
  return { x, y, width: right - x, height: bottom - y };
}

/** Where picked cards go when they are aligned: left edges, tops, or spread evenly downwards. */
export function alignedPositions(
  graph: GraphRecord,
  ids: readonly string[],
  how: 'left' | 'top' | 'spread',
  heights: ReadonlyMap<string, number>,
): Map<string, Place> {
  const nodes = graph.nodes.filter((n) => ids.includes(n.id)).sort((a, b) => a.position[1] - b.position[1]);
  const left = Math.min(...nodes.map((n) => n.position[0]));
  const top = Math.min(...nodes.map((n) => n.position[1]));
  let next = top;
  return new Map(
    nodes.map((n) => {
      const y = next;
      next += (heights.get(n.id) ?? 120) + 24;
      return [n.id, how === 'left' ? [left, n.position[1]] : how === 'top' ? [n.position[0], top] : [n.position[0], y]];
    }),
  );
}
