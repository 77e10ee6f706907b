import { CATALOGUE } from '../nodes/index.ts';
import { expect } from 'vitest';
import { makeSphere } from '../geometry/primitives.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { drivingNodes } from '../graph/network/facets.ts';
import { problemWords } from '../graph/node/problems.ts';
import type { Single } from '../graph/node/values.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { type Channels } from '../project/fields.ts';
import { makeObject } from '../project/kinds/index.ts';
import { type Project } from '../project/schema.ts';
import { objectsAt } from '../scene/channels.ts';
import { drivenIn } from '../scene/packed-driven.ts';
import { worldMatrix } from '../scene/world.ts';
import { node } from './build.ts';

/** Objects of a quay, and short ways to see where graphs put them. */

/** Channels. */
export const at = (
  t: [number, number, number],
  r: [number, number, number] = [0, 0, 0],
  s: [number, number, number] = [1, 1, 1],
): Channels => ({ translate: t, rotate: r, order: 'xyz', scale: s });
export const HOOK = makeObject('hook', 'Crane hook', 'locator', { channels: at([0, 5, 0], [0, 30, 0]) });
export const MAST = makeObject('mast', 'Mast', 'locator', { channels: at([8, 3, 1], [10, 0, 0]) });
export const CREW = makeObject('crew', 'Crew', 'group', { channels: at([1, 0, 0], [0, 45, 0]) });
export const LANTERN = makeObject('lantern', 'Lantern', 'prop', {
  parent: 'crew',
  channels: at([0.5, 4, 0]),
  pivot: [0, 0.3, 0],
});

/** Evaluates outputs and all that drives objects: values, problems in words, and where objects are. */
export const run = (p: Project, wanted: string[], frame = 1, evaluator = new Evaluator(CATALOGUE)) => {
  if (!evaluator.getAsset('mesh')) evaluator.setAsset('mesh', makeSphere(1, 8, 12));
  const refs = wanted.map((w) => ({ node: w.split('.')[0], port: w.split('.')[1] }));
  const drivers = drivingNodes(CATALOGUE, p).map((id) => ({ node: id, port: SHOWN_PORT }));
  const evaluation = evaluator.evaluate({ project: p, frame, wanted: [...refs, ...drivers] });
  const packed = drivenIn(evaluation.allDriven());
  for (const { id } of p.objects) {
    const [all, one] = [packed(id), evaluation.driven(id)];
    expect([all?.carrier, all?.channels ?? {}]).toEqual([one?.carrier, one?.channels ?? {}]);
  }
  const words = [...evaluation.reports.values()].flatMap((r) => r.problems.map(problemWords));
  const world = (id: string) => worldMatrix(objectsAt(p, frame), id, 'channels', evaluation.driven);
  return { values: refs.map((r) => evaluation.value(r)), words, world, evaluation };
};
/** The numbers of a single value. */
export const single = (v: unknown) => Array.from((v as Single).data);
/** Expects numbers to be the same to some decimals. */
export const near = (a: ArrayLike<number>, b: ArrayLike<number>, digits = 9) =>
  Array.from(a).forEach((v, i) => expect(v).toBeCloseTo(b[i], digits));
export const locator = (id: string) => node(id, 'scene-locator', { settings: { object: id } });
