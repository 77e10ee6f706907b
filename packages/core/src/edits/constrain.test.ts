import { describe, expect, test } from 'vitest';
import { makeBox } from '../geometry/solids.ts';
import { drivingNodes } from '../graph/network/facets.ts';
import { resolveProject } from '../graph/network/resolve.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import { SHOWN_PORT } from '../graph/node/definition.ts';
import { worldsAt } from '../graph/evaluate/sample-objects.ts';
import { randomFrom } from '../maths/random.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { makeObject, type ObjectRecord } from '../project/kinds/index.ts';
import { makeProject, type Project } from '../project/schema.ts';
import { objectsAt } from '../scene/channels.ts';
import { worldLookup } from '../scene/world.ts';
import {
  CONSTRAINT_RULES,
  makeConstraint,
  wrongPick,
  type ConstrainServices,
  type ConstraintKind,
  type Pose,
} from './constrain.ts';
import { switchDial } from './switch.ts';
import { takeSnapshot } from './take-snapshot.ts';

const KINDS = Object.keys(CONSTRAINT_RULES) as ConstraintKind[];

function evaluatorFor(): Evaluator {
  const evaluator = new Evaluator(CATALOGUE);
  evaluator.setAsset('box', makeBox([1, 1, 1], [2, 2, 2]));
  return evaluator;
}

const services = (evaluator: Evaluator): ConstrainServices => ({
  snapshot: (project, frame, node) => Promise.resolve(takeSnapshot(evaluator, project, frame, node)),
  placeAtRest: (_project, _frame, _node, at) => Promise.resolve(at),
});

function poseOf(evaluator: Evaluator, project: Project, frame: number): Pose {
  const wanted = drivingNodes(CATALOGUE, project).map((node) => ({ node, port: SHOWN_PORT }));
  const { driven } = evaluator.evaluate({ project, frame, wanted });
  const objects = objectsAt(project, frame);
  return { project, frame, objects, driven, world: worldLookup(objects, 'channels', driven) };
}

/** A child and drivers somewhere, turned and sized at random, one of them mirrored, all under a group that is turned too. */
function scene(seed: number): Project {
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

const byId = (project: Project, id: string) => project.objects.find((o) => o.id === id) as ObjectRecord;
const apart = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.max(...Array.from(a, (v, i) => Math.abs(v - b[i])));

const DRIVERS: Record<ConstraintKind, readonly (readonly string[])[]> = {
  follow: [['hook'], ['mast']],
  handOver: [
    ['hook', 'mast'],
    ['mast', 'rope', 'hook'],
  ],
  between: [['mast', 'hook']],
  aim: [['hook'], ['mast', 'hook']],
  ride: [['mast'], ['rope']],
};

describe('constraints as one edit', () => {
  test.each(KINDS)(
    '%s: the object does not move, alone or as one more link of a chain, and is driven afterwards',
    async (kind) => {
      for (let seed = 1; seed <= 6; seed++)
        for (const drivers of DRIVERS[kind]) {
          const evaluator = evaluatorFor();
          let project = scene(seed);
          const [stood] = worldsAt(evaluator, project, ['lantern'], 1);
          // A second one goes behind the first.
          for (const [link, ids] of [drivers, DRIVERS.follow[1]].entries()) {
            const pose = poseOf(evaluator, project, 1);
            const made = await makeConstraint(
              CATALOGUE,
              pose,
              link === 0 ? kind : 'follow',
              byId(project, 'lantern'),
              ids.map((id) => byId(project, id)),
              services(evaluator),
            );
            if (typeof made === 'string') throw new Error(made);
            project = made.project;
            expect(apart(worldsAt(evaluator, project, ['lantern'], 1)[0], stood), `${seed} ${ids.join()} ${link}`).toBeLessThan(
              1e-6,
            );
            expect(drivingNodes(CATALOGUE, project)).toHaveLength(1);
            expect(resolveProject(CATALOGUE, project).get(made.node)?.settings.object).toBe('lantern');
          }
          // Its driver moves: so does it.
          const moved: Project = {
            ...project,
            objects: project.objects.map((o) =>
              drivers.includes(o.id) ? { ...o, channels: { ...o.channels, translate: [9, 8, 7] } } : o,
            ),
          };
          expect(apart(worldsAt(evaluator, moved, ['lantern'], 1)[0], stood), `${seed} ${drivers.join()}`).toBeGreaterThan(0.01);
        }
    },
  );

  test('a hand-over has a dial of the object’s own, however it is called', async () => {
    const evaluator = evaluatorFor();
    const project = scene(3);
    expect(switchDial(CATALOGUE, project, 'lantern')).toBeUndefined();
    const pose = poseOf(evaluator, project, 1);
    const made = await makeConstraint(
      CATALOGUE,
      pose,
      'handOver',
      byId(project, 'lantern'),
      [byId(project, 'hook'), byId(project, 'mast')],
      services(evaluator),
    );
    if (typeof made === 'string') throw new Error(made);
    const [dial] = byId(made.project, 'lantern').custom;
    expect([dial.min, dial.max]).toEqual([0, 1]);
    const renamed = {
      ...made.project,
      objects: made.project.objects.map((o) => ({ ...o, custom: o.custom.map((c) => ({ ...c, name: 'who holds it' })) })),
    };
    expect(switchDial(CATALOGUE, renamed, 'lantern')).toBe(dial.id);
    expect(switchDial(CATALOGUE, renamed, 'hook')).toBeUndefined();
  });

  test('what cannot be is said in a sentence, and nothing is made', async () => {
    const evaluator = evaluatorFor();
    const project = scene(1);
    const [lantern, hook, mast, deck] = ['lantern', 'hook', 'mast', 'deck'].map((id) => byId(project, id));
    expect(wrongPick('handOver', lantern, [hook])).toContain('two or more');
    expect(wrongPick('follow', undefined, [])).toContain('pick the object');
    expect(wrongPick('ride', lantern, [hook])).toBe('"Hook" has no mesh and no curve to ride. Pick one that has.');
    expect(wrongPick('ride', lantern, [mast])).toBeUndefined();
    // The lantern hangs under the deck: a deck that follows it would move what it follows.
    const looped = await makeConstraint(CATALOGUE, poseOf(evaluator, project, 1), 'follow', deck, [lantern], services(evaluator));
    expect(looped).toMatch(/^"Deck" moves what it would be moved by, which is a loop: /);
    const none: ConstrainServices = { ...services(evaluator), snapshot: () => Promise.resolve(undefined) };
    expect(await makeConstraint(CATALOGUE, poseOf(evaluator, project, 1), 'follow', lantern, [hook], none)).toContain(
      'has no place now',
    );
  });
});
