import type { ConstrainServices } from '../edits/constrain.ts';
import type { Pose } from '../edits/pose.ts';
import { takeSnapshot } from '../edits/take-snapshot.ts';
import { makeBox } from '../geometry/solids.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { drivingNodes } from '../graph/network/facets.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { randomFrom } from '../maths/random.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { makeProject, type Project } from '../project/schema.ts';
import { objectsAt } from '../scene/channels.ts';
import { worldLookup } from '../scene/world.ts';

/* A lantern and what may carry it, for constraints of all sorts. */

export function evaluatorFor(): Evaluator {
  const evaluator = new Evaluator(CATALOGUE);
  evaluator.setAsset('box', makeBox([1, 1, 1], [2, 2, 2]));
  return evaluator;
}

export const services = (evaluator: Evaluator): ConstrainServices => ({
  snapshot: (...of) => Promise.resolve(takeSnapshot(evaluator, ...of)),
  placeAtRest: (_project, _frame, _node, at) => Promise.resolve(at),
});

export function poseOf(evaluator: Evaluator, project: Project, frame: number): Pose {
  const wanted = drivingNodes(CATALOGUE, project).map((node) => ({ node, port: SHOWN_PORT }));
  const { driven } = evaluator.evaluate({ project, frame, wanted });
  const objects = objectsAt(project, frame);
  return { project, frame, objects, driven, world: worldLookup(objects, 'channels', driven) };
}

/** A child and drivers somewhere, turned and sized at random, one of them mirrored, all under a group that is turned too. */
export function scene(seed: number): Project {
  const random = randomFrom(seed);
  const some = (k: number) => [random() * k - k / 2, random() * k - k / 2, random() * k - k / 2] as const;
  const channels = (mirrored = false) => ({
    translate: some(6),
    rotate: some(300),
    order: 'yzx' as const,
    scale: [mirrored ? -1.2 : 0.7 + random(), 0.7 + random(), 0.7 + random()] as const,
  });
  const spline = {
    type: 'bezier' as const,
    closed: false,
    points: [0, 1, 2].map((i) => ({
      at: [i, Math.sin(i), 0] as const,
      in: [-0.3, 0, 0] as const,
      out: [0.3, 0, 0] as const,
      roll: 0,
      width: 1,
    })),
  };
  return {
    ...makeProject('p', 'P'),
    objects: [
      makeObject('deck', 'Deck', 'group', { channels: channels() }),
      makeObject('lantern', 'Lantern', 'locator', { channels: channels(), parent: 'deck', pivot: some(1) }),
      makeObject('hook', 'Hook', 'locator', { channels: channels(true) }),
      makeObject('mast', 'Mast', 'mesh', { channels: channels(), mesh: 'box' }),
      makeObject('rope', 'Rope', 'curve', { channels: channels(), curve: { splines: [spline] } }),
    ],
    assets: [{ id: 'box', name: 'Box', points: 26, faces: 24, origin: '' }],
  };
}

export const byId = (project: Project, id: string) => project.objects.find((o) => o.id === id) as ObjectRecord;
/** The largest difference of two lists of numbers. */
export const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.max(...Array.from(a, (v, i) => Math.abs(v - b[i])));
