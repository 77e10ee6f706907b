import { describe, expect, test } from 'vitest';
import { drivingNodes } from '../graph/network/facets.ts';
import { resolveProject } from '../graph/network/resolve.ts';
import { worldsAt } from '../graph/evaluate/sample-objects.ts';
import { CATALOGUE } from '../nodes/index.ts';
import type { Project } from '../project/schema.ts';
import { apart, byId, evaluatorFor, poseOf, scene, services } from '../testing/carried.ts';
import { CONSTRAINT_RULES, makeConstraint, wrongPick, type ConstrainServices, type ConstraintKind } from './constrain.ts';
import { switchDial } from './switch.ts';

const KINDS = Object.keys(CONSTRAINT_RULES) as ConstraintKind[];

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
