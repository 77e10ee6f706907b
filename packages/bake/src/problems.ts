import {
  nodeTitle,
  problemWords,
  resolveProject,
  upstreamObjects,
  withRemoved,
  wrongChannels,
  type Catalogue,
  type Evaluation,
  type Project,
} from '@umberfish/core';

/** A project with those of its objects, removed ones too, that anything behind some nodes reads, and others by id. */
export function behind(
  catalogue: Catalogue,
  project: Project,
  nodes: readonly string[],
  others: readonly string[] = [],
): Project {
  const whole = withRemoved(project);
  const concerned = new Set([...upstreamObjects(catalogue, whole, nodes), ...others]);
  return { ...whole, objects: whole.objects.filter((o) => concerned.has(o.id)) };
}

/** Channels that cannot be worked out at a frame, in sentences. */
export const channelErrors = (project: Project, frame: number): string[] =>
  wrongChannels(project, [frame]).map((w) => `${w.object.name}: ${w.message}`);

const placeOf = (catalogue: Catalogue, project: Project, id: string): string => {
  const node = resolveProject(catalogue, project).get(id);
  return node ? `${node.graph.name} / ${nodeTitle(node)}` : id;
};

/** Errors of the nodes of an evaluation, in sentences. */
export const nodeErrors = (catalogue: Catalogue, project: Project, evaluation: Evaluation): string[] =>
  [...evaluation.reports.values()].flatMap((r) =>
    r.problems
      .filter((p) => p.severity === 'error' && p.code !== 'waits')
      .map((p) => `${placeOf(catalogue, project, r.node)}: ${problemWords(p)}`),
  );

/** The first node that made something not finite, where one says so. */
export function whoMadeIt(catalogue: Catalogue, project: Project, evaluation: Evaluation): string | undefined {
  const first = [...evaluation.reports.values()].find((r) => r.problems.some((p) => p.code === 'not-finite'));
  return first && placeOf(catalogue, project, first.node);
}
