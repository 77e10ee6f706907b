import type { GraphRecord, SectionRecord } from '../project/schema.ts';
import { inGraph, newId, withoutNodes, type Edit } from './document.ts';

/*
 * Edits of how a graph is laid out: sections, pins of wires. They change nothing that is computed.
 */

const inSections =
  (graph: string, change: (sections: readonly SectionRecord[], g: GraphRecord) => readonly SectionRecord[]): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({ ...g, sections: change(g.sections, g) }));

/** Puts nodes into a new section; they leave the one they were in. */
export const addSection = (graph: string, id: string, nodes: readonly string[]): Edit =>
  inSections(graph, (sections) => [
    ...withoutNodes(sections, nodes),
    { id, title: `Section ${sections.length + 1}`, note: '', tint: 'sand', nodes, folded: false },
  ]);

export const changeSection = (graph: string, id: string, change: Partial<SectionRecord>): Edit =>
  inSections(graph, (sections) => sections.map((s) => (s.id === id ? { ...s, ...change } : s)));

/** Takes the box away; its nodes stay. */
export const removeSection = (graph: string, id: string): Edit =>
  inSections(graph, (sections) => sections.filter((s) => s.id !== id));

/** Moves nodes into a section, or out of any when it is null. */
export const moveToSection = (graph: string, nodes: readonly string[], section: string | null): Edit =>
  inSections(graph, (sections) => {
    const kept = withoutNodes(
      sections.filter((s) => s.id !== section),
      nodes,
    );
    const into = sections.find((s) => s.id === section);
    if (!into) return kept;
    const joined = { ...into, nodes: [...into.nodes.filter((n) => !nodes.includes(n)), ...nodes] };
    return sections.flatMap((s) => (s === into ? [joined] : kept.filter((k) => k.id === s.id)));
  });

/** Sets where a wire bends. */
export const setPins =
  (graph: string, wire: string, pins: readonly (readonly [number, number])[]): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({ ...g, wires: g.wires.map((w) => (w.id === wire ? { ...w, pins } : w)) }));

/** Sets where several wires bend; those that are not named keep their pins. */
export const setAllPins =
  (graph: string, pins: ReadonlyMap<string, readonly (readonly [number, number])[]>): Edit =>
  (p) =>
    inGraph(p, graph, (g) => ({
      ...g,
      wires: g.wires.map((w) => {
        const next = pins.get(w.id);
        return next && (next.length > 0 || w.pins.length > 0) ? { ...w, pins: next } : w;
      }),
    }));

export const newSectionId = (): string => newId('section');
