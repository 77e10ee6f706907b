import { graphWithNode, problemWords, resolveGraph, resolveProject, usedKey } from '@umberfish/core';
import { titleOfPath } from './paths.ts';
import { store } from '../../state/store.ts';
import { sectionOf } from './flow.ts';
import { catalogue } from '../../state/catalogue.ts';

/** A node as the finder lists it. */
export interface FoundNode {
  readonly node: string;
  readonly graph: string;
  readonly graphName: string;
  readonly title: string;
  /** What is shown beside the title: its message, or its type. */
  readonly about: string;
  /** What it can be found by: type, texts of its settings (attribute names, formulas), section, messages. */
  readonly words: readonly string[];
}

/** All nodes of all graphs. */
export function everyNode(): FoundNode[] {
  const { project, evaluation } = {
    project: store.getState().project.project,
    evaluation: store.getState().evaluation,
  };
  if (!project) return [];
  const uses = project.graphs.flatMap((g) => [...resolveGraph(catalogue(), g).values()].filter((n) => usedKey(n.record)));
  return [...resolveProject(catalogue(), project).values(), ...uses].map((n) => {
    const messages = (evaluation.reports.get(n.record.id)?.problems ?? []).map(problemWords);
    const type = n.definition?.title ?? n.record.type;
    const texts = Object.values(n.record.settings).flatMap((v) => {
      if (typeof v === 'string') return [v];
      return v && typeof v === 'object' && 'names' in v ? v.names.map((x) => x.name) : [];
    });
    const section = sectionOf(n.graph).get(n.record.id)?.title;
    const names = texts.filter((t) => /^[A-Za-z_]\w*$/.test(t));
    return {
      node: n.record.id,
      graph: graphWithNode(project, n.record.id) ?? n.graph.id,
      graphName: n.graph.name,
      title: titleOfPath(project, n),
      about: messages[0] ?? [type, ...names].join(' · '),
      words: [type, ...texts, ...(section ? [section] : []), ...messages],
    };
  });
}
