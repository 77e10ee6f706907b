import { expect, test } from 'vitest';
import { readFileSync } from 'node:fs';
import {
  CATALOGUE,
  drivingNodes,
  duplicateGraph,
  Evaluator,
  readProjectFile,
  SHOWN_PORT,
  shownResults,
  type Project,
} from '@umberfish/core';

const { project, assets } = readProjectFile(readFileSync(new URL('../lantern-quay.json', import.meta.url), 'utf8'));

/** What a graph shows and drives at a frame, in order. */
function made(of: Project, graph: string, frame: number): unknown[] {
  const evaluator = new Evaluator(CATALOGUE);
  for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
  const nodes = new Set(of.graphs.find((g) => g.id === graph)?.nodes.map((n) => n.id));
  const all = [...shownResults(CATALOGUE, of).map((r) => r.node), ...drivingNodes(CATALOGUE, of)];
  const wanted = all.filter((n) => nodes.has(n.split('/')[0])).map((node) => ({ node, port: SHOWN_PORT }));
  const ran = evaluator.evaluate({ project: of, frame, wanted });
  return wanted.map((ref) => {
    const value = ran.value(ref);
    if (value?.form === 'geometry') return value.mesh.positions;
    return value?.form === 'copies' ? value.copies.matrices : value;
  });
}

test.each(project.graphs.map((g) => [g.name, g.id]))(
  'a copy of "%s" in its place makes the same to the bit: snapshots, modules and sections go along',
  (_name, id) => {
    const copied = duplicateGraph(CATALOGUE, project, id);
    const copy = copied?.project.graphs.find((g) => g.id === copied.graph);
    if (!copy) throw new Error('There is no copy.');
    const old = project.graphs.find((g) => g.id === id)!;
    const nodes = copy.nodes.map((n, i) => ({ ...n, skip: old.nodes[i].skip }));
    const inPlace = { ...project, graphs: project.graphs.map((g) => (g.id === id ? { ...copy, nodes } : g)) };
    const now = made(inPlace, copy.id, 60);
    expect(now.length).toBeGreaterThan(0);
    expect(now).toEqual(made(project, id, 60));
  },
);
