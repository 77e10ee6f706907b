import { positionOf, transformPoint } from '../../maths/matrix.ts';
import { SHOWN_PORT } from '../node/definition.ts';
import type { ObjectRecord } from '../../project/kinds/index.ts';
import type { GraphRecord, Project } from '../../project/schema.ts';
import { worldMatrix } from '../../scene/world.ts';
import type { Evaluator } from '../evaluate/evaluator.ts';
import type { Problem } from '../node/problems.ts';
import { expandProject } from '../../modules/expand.ts';
import { nodeTitle, resolveProject, type ResolvedNode } from '../network/resolve.ts';

/** Orders of more matrices than this are not tried. */
const MOST_ROWS = 4;

/** The project with every object at rest, and nothing that moves it there by itself. */
export function atRest(project: Project): Project {
  const resting = (o: ObjectRecord): ObjectRecord => ({ ...o, channels: o.rest, animated: {} });
  return {
    ...project,
    objects: project.objects.map(resting),
    removed: project.removed.map((r) => ({ ...r, object: resting(r.object) })),
  };
}

/**
 * Looks whether matrices that are multiplied by hand leave an object where it rests when everything is at rest; if not,
 * how far they move it, and in which order they would leave it. Only Drive Object nodes whose matrix comes straight from
 * Multiply Matrices are looked at: elsewhere moving at rest may be what is wanted.
 * @returns problems by node
 */
export function restProblems(evaluator: Evaluator, document: Project): ReadonlyMap<string, Problem> {
  // Flat, so that rows inside of a use are put into another order like any others.
  const { project } = expandProject(evaluator.catalogue, document);
  const found = new Map<string, Problem>();
  const nodes = resolveProject(evaluator.catalogue, project);
  let resting: Project | undefined;
  for (const node of nodes.values()) {
    const product = productOf(node, project, nodes);
    if (!product) continue;
    resting ??= atRest(project);
    const metres = movedAtRest(evaluator, resting, node);
    if (metres === undefined || metres < 1e-5) continue;
    const order = orderThatStays(evaluator, resting, node, product, nodes);
    const name = project.objects.find((o) => o.id === node.settings.object)?.name ?? '';
    const problem: Problem = { code: 'moves-at-rest', object: name, metres, severity: 'warning', ...(order ? { order } : {}) };
    found.set(node.record.id, problem);
    found.set(product.record.id, problem);
  }
  return found;
}

/** What multiplies the matrices that a node carries its one object by, if anything does. */
function productOf(node: ResolvedNode, project: Project, nodes: ReadonlyMap<string, ResolvedNode>): ResolvedNode | undefined {
  const driven = node.definition?.drives?.(node.settings, project) ?? [];
  if (driven.length !== 1 || driven[0].channel !== undefined || node.record.skip) return undefined;
  const from = nodes.get(node.wires.get('matrix')?.from.node ?? '');
  return from?.definition?.inOrder && !from.record.skip ? from : undefined;
}

/** How far the object, and places a metre from it, are from where they rest; undefined when nothing drives it. */
function movedAtRest(evaluator: Evaluator, resting: Project, node: ResolvedNode): number | undefined {
  const object = String(node.settings.object);
  const wanted = [{ node: node.record.id, port: SHOWN_PORT }];
  const evaluation = evaluator.evaluate({ project: resting, frame: resting.range.first, wanted, purpose: 'rest' });
  const driven = evaluation.driven(object);
  if (!driven?.carrier) return undefined;
  const objects = new Map(resting.objects.map((o) => [o.id, o]));
  const now = worldMatrix(objects, object, 'channels', (id) => (id === object ? driven : undefined));
  const then = worldMatrix(objects, object, 'rest');
  const away = (p: readonly [number, number, number]) => {
    const [a, b] = [transformPoint(now, p), transformPoint(then, p)];
    return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  };
  const moved = Math.hypot(...positionOf(now).map((v, i) => v - then[12 + i]));
  return Math.max(moved, away([1, 0, 0]), away([0, 1, 0]), away([0, 0, 1]));
}

/** Names of the rows in an order in which the object stays, or undefined. */
function orderThatStays(
  evaluator: Evaluator,
  resting: Project,
  node: ResolvedNode,
  product: ResolvedNode,
  nodes: ReadonlyMap<string, ResolvedNode>,
): string | undefined {
  const ports = product.inputs.map((p) => p.id);
  if (ports.length > MOST_ROWS || ports.some((p) => !product.wires.has(p))) return undefined;
  for (const order of permutations(ports)) {
    const swapped = reordered(resting, product, ports, order);
    const metres = movedAtRest(evaluator, swapped, node);
    if (metres === undefined || metres > 1e-5) continue;
    return order
      .map((p) => {
        const from = nodes.get(product.wires.get(p)?.from.node ?? '');
        return `"${from ? nodeTitle(from) : p}"`;
      })
      .join(', then ');
  }
  return undefined;
}

/** The wires of a product put into its rows in another order: row i takes what came into `order[i]`. */
export function reordered(project: Project, product: ResolvedNode, ports: readonly string[], order: readonly string[]): Project {
  const graph = (g: GraphRecord): GraphRecord => ({
    ...g,
    wires: g.wires.map((w) =>
      w.to.node === product.record.id && order.includes(w.to.port)
        ? { ...w, to: { ...w.to, port: ports[order.indexOf(w.to.port)] } }
        : w,
    ),
  });
  return { ...project, graphs: project.graphs.map((g) => (g.id === product.graph.id ? graph(g) : g)) };
}

function permutations(items: readonly string[]): string[][] {
  if (items.length < 2) return [[...items]];
  return items.flatMap((x, i) => permutations([...items.slice(0, i), ...items.slice(i + 1)]).map((others) => [x, ...others]));
}
