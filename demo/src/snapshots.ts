import { CATALOGUE, Evaluator, takeSnapshot, type Mesh, type Project } from '@umberfish/core';

/** The frame at which the lantern hangs between the hook and the mast, and everything stands as it was put. */
const TAKEN_AT = 64;

/** Takes the snapshots that constraints lack. */
export function withSnapshots(project: Project, assets: ReadonlyMap<string, Mesh>): Project {
  const evaluator = new Evaluator(CATALOGUE);
  for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
  let done = project;
  for (const graph of project.graphs) {
    for (const { id, type } of graph.nodes) {
      if (!['follow', 'hand-over', 'between', 'aim-at'].includes(type)) continue;
      const snapshot = takeSnapshot(evaluator, done, TAKEN_AT, id);
      if (!snapshot) throw new Error(`${graph.name}: ${id} has nothing to take a snapshot of.`);
      done = {
        ...done,
        graphs: done.graphs.map((g) => ({
          ...g,
          nodes: g.nodes.map((n) => (n.id === id ? { ...n, settings: { ...n.settings, snapshot } } : n)),
        })),
      };
    }
  }
  return done;
}
