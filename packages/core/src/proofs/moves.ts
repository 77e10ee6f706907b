import type { Mesh } from '../geometry/mesh.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { shownResults } from '../graph/network/shown.ts';
import { pointsOf } from '../graph/node/points-of.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { CATALOGUE } from '../nodes/index.ts';
import type { Project } from '../project/schema.ts';

/** By how much a result is another in one of two projects. */
export interface ResultMove {
  readonly name: string;
  /** Metres, of the point that moves farthest; undefined where there are other points, or it is shown in one of them only. */
  readonly most: number | undefined;
  readonly point: number;
}

/** The results that differ between two projects at a frame, and the largest move of each; those that are the same are left out. */
export function movesBetween(before: Project, after: Project, assets: ReadonlyMap<string, Mesh>, frame: number): ResultMove[] {
  const places = (project: Project) => {
    const evaluator = new Evaluator(CATALOGUE);
    for (const [id, mesh] of assets) evaluator.setAsset(id, mesh);
    const results = shownResults(CATALOGUE, project);
    const wanted = results.map((r) => ({ node: r.node, port: SHOWN_PORT }));
    const evaluation = evaluator.evaluate({ project, frame, wanted });
    return new Map(
      results.map((r, i) => {
        const value = evaluation.value(wanted[i]);
        return [r.node, { name: r.name, points: value && pointsOf(value) }] as const;
      }),
    );
  };
  const [a, b] = [places(before), places(after)];
  const moves: ResultMove[] = [];
  for (const node of new Set([...a.keys(), ...b.keys()])) {
    const name = (b.get(node) ?? a.get(node))?.name ?? '';
    const [p, q] = [a.get(node)?.points, b.get(node)?.points];
    if (!p && !q) continue;
    if (!p || !q || p.length !== q.length) {
      moves.push({ name, most: undefined, point: 0 });
      continue;
    }
    let most = 0;
    let point = 0;
    for (let i = 0; i < p.length; i += 3) {
      // The same is no move, not even of what is no number.
      if (Object.is(p[i], q[i]) && Object.is(p[i + 1], q[i + 1]) && Object.is(p[i + 2], q[i + 2])) continue;
      const d = Math.hypot(p[i] - q[i], p[i + 1] - q[i + 1], p[i + 2] - q[i + 2]);
      if (!(d <= most)) [most, point] = [d, i / 3];
      if (Number.isNaN(d)) break;
    }
    if (most !== 0) moves.push({ name, most, point });
  }
  return moves.sort((x, y) => (y.most ?? Infinity) - (x.most ?? Infinity));
}
