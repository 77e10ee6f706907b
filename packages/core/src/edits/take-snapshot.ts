import type { Snapshot } from '../project/fields.ts';
import type { Project } from '../project/schema.ts';
import { objectsAt } from '../scene/channels.ts';
import { carrierOf, localMatrix, parentMatrix } from '../scene/world.ts';
import { inverseOf } from '../constraints/index.ts';
import { largest } from '../maths/extremes.ts';
import { identity, product, type Matrix } from '../maths/matrix.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { drivingNodes } from '../graph/network/facets.ts';
import type { Evaluator } from '../graph/evaluate/evaluator.ts';
import { expandProject } from '../modules/expand.ts';
import { resolveProject } from '../graph/network/resolve.ts';
import type { Value } from '../graph/node/values.ts';

/** Where an object stands: the carrier that a constraint shall come to, and all its carriers together. */
export interface Standing {
  readonly carrier: Readonly<Matrix>;
  readonly all: Readonly<Matrix>;
}

/**
 * Where everything a constraint reads stands at a frame: the matrices at its inputs, and the object it is for.
 * Taken while the constraint is at work, its carrier stays what it is, so that the object stays where it is: what other
 * carriers add to it (in a chain of several) counts as the object's own.
 * @param standing where the object stood before the constraint was made, for one that is new
 * @returns undefined when the node is gone, no object is chosen, or a driver has no matrix
 */
export function takeSnapshot(
  evaluator: Evaluator,
  document: Project,
  frame: number,
  nodeId: string,
  standing?: Standing,
): Snapshot | undefined {
  // Flat, so that a node inside of a use is tried with a snapshot like any other.
  const { project } = expandProject(evaluator.catalogue, document);
  const node = resolveProject(evaluator.catalogue, project).get(nodeId);
  const objects = objectsAt(project, frame);
  const child = objects.get(String(node?.settings.object));
  if (!node || !child) return undefined;
  const wires = node.inputs.filter((p) => p.kind === 'matrix').map((p) => node.wires.get(p.id)?.from);
  const driving = drivingNodes(evaluator.catalogue, project).map((id) => ({ node: id, port: SHOWN_PORT }));
  const mine = { node: nodeId, port: 'carrier' };
  const wanted = [...wires.filter((w) => w !== undefined), ...driving, mine];
  const evaluation = evaluator.evaluate({ project, frame, wanted, purpose: 'snapshot' });
  const drivers: number[][] = [];
  for (const wire of wires) {
    const value = wire && evaluation.value(wire);
    if (value?.form !== 'single' || value.kind !== 'matrix') return undefined;
    drivers.push(Array.from(value.data));
  }
  const all = standing?.all ?? carrierOf(child, 'channels', evaluation.driven) ?? identity();
  const carrier = standing?.carrier ?? singleMatrixOf(evaluation.value(mine)) ?? all;
  const local = localMatrix(child, 'channels', evaluation.driven);
  const draft: Snapshot = {
    drivers,
    parent: Array.from(parentMatrix(objects, child, 'channels', evaluation.driven)),
    carrier: Array.from(carrier),
    child: Array.from(product(inverseOf(carrier) ?? identity(), all, local)),
    pivot: child.pivot,
  };
  // What the node adds of its own on top of the snapshot (a roll, an offset) is in the carrier already: without it, the
  // node makes of what is left the carrier that is there. C₀ = C · F(C)⁻¹ · C, whichever side F adds it on.
  const again = evaluator.evaluate({
    project: withSnapshot(project, nodeId, draft),
    frame,
    wanted: [mine],
    purpose: 'snapshot',
  });
  const made = singleMatrixOf(again.value(mine));
  const back = made && inverseOf(made);
  const size = largest(Array.from(carrier, Math.abs));
  if (!back || made.every((v, i) => Math.abs(v - carrier[i]) <= size * 1e-12)) return draft;
  const plain = product(carrier, back, carrier);
  return {
    ...draft,
    carrier: Array.from(plain),
    child: Array.from(product(inverseOf(plain) ?? identity(), all, local)),
  };
}

const singleMatrixOf = (v: Value | undefined): Readonly<Matrix> | undefined =>
  v?.form === 'single' && v.kind === 'matrix' ? v.data : undefined;

/** A project with a node's snapshot taken. */
const withSnapshot = (project: Project, id: string, snapshot: Snapshot): Project => ({
  ...project,
  graphs: project.graphs.map((g) =>
    g.nodes.every((n) => n.id !== id)
      ? g
      : {
          ...g,
          nodes: g.nodes.map((n) => (n.id === id ? { ...n, settings: { ...n.settings, snapshot } } : n)),
        },
  ),
});
