import type { Project, Snapshot } from '../project/schema.ts';
import { objectsAt } from '../scene/channels.ts';
import { carrierOf, localMatrix, parentMatrix } from '../scene/world.ts';
import { inverseOf } from '../constraints/index.ts';
import { identity, product, type Matrix } from '../maths/matrix.ts';
import { SHOWN_PORT } from '../nodes/index.ts';
import { drivingNodes } from './facets.ts';
import type { Evaluator } from './evaluator.ts';
import { resolveProject } from './resolve.ts';

/**
 * Where everything a constraint reads stands at a frame: the matrices at its inputs, and the object it is for.
 * Taken while the constraint is at work, its carrier stays what it is, so that the object stays where it is: what other
 * carriers add to it (in a chain of several) counts as the object's own.
 * @returns undefined when the node is gone, no object is chosen, or a driver has no matrix
 */
export function takeSnapshot(
  evaluator: Evaluator,
  project: Project,
  frame: number,
  nodeId: string,
): Snapshot | undefined {
  const node = resolveProject(project).get(nodeId);
  const objects = objectsAt(project, frame);
  const child = objects.get(String(node?.settings.object));
  if (!node || !child) return undefined;
  const wires = node.inputs.filter((p) => p.kind === 'matrix').map((p) => node.wires.get(p.id)?.from);
  const driving = drivingNodes(project).map((id) => ({ node: id, port: SHOWN_PORT }));
  const mine = { node: nodeId, port: 'carrier' };
  const wanted = [...wires.filter((w) => w !== undefined), ...driving, mine];
  const evaluation = evaluator.evaluate({ project, frame, wanted });
  const drivers: number[][] = [];
  for (const wire of wires) {
    const value = wire && evaluation.value(wire);
    if (value?.form !== 'single' || value.kind !== 'matrix') return undefined;
    drivers.push(Array.from(value.data));
  }
  const all = carrierOf(child, 'channels', evaluation.driven) ?? identity();
  const made = evaluation.value(mine);
  const carrier: Readonly<Matrix> = made?.form === 'single' && made.kind === 'matrix' ? made.data : all;
  const others = product(inverseOf(carrier) ?? identity(), all);
  return {
    drivers,
    parent: Array.from(parentMatrix(objects, child, 'channels', evaluation.driven)),
    carrier: Array.from(carrier),
    child: Array.from(product(others, localMatrix(child, 'channels', evaluation.driven))),
    pivot: child.pivot,
  };
}
