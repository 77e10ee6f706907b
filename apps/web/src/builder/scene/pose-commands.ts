import {
  channelsFor,
  channelsMatrix,
  hungUnder,
  keepRemoved,
  switchWithoutPop,
  tidy,
  type Hung,
  type ObjectRecord,
  type Project,
  type Vec3,
  mirrorChannels,
  zeroChannels,
  changeObject,
  orphansOf,
  removeObjects,
  renameObject,
  type Edit,
} from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { applyEdit, store } from '../../state/store.ts';
import { objectsPicked, remarked } from '../../state/ui-slice.ts';
import { formatNumber } from '../../ui/format.ts';
import { catalogue } from '../../state/catalogue.ts';

/** Commands that need to know where things are: hanging under, removing, pivots. */

const wrong = (text: string) => void store.dispatch(remarked({ text, kind: 'wrong' }));

/** Says so when channels cannot hold a matrix. */
export function warnOfShear(residual: number, name: string): void {
  if (residual > 1e-6)
    wrong(`"${name}" is sheared by what it hangs under; its channels leave out ${(residual * 100).toPrecision(2)} % of that.`);
}

const worldsOf = (p: Project, id: string, frames: readonly number[]) => engine.worlds(p, [id], frames);

/** Applies what is worked out from the project as it stands; anew when that has changed meanwhile. */
async function applyWorkedOut(
  label: string,
  make: (p: Project) => Promise<Project | undefined>,
  switched?: string,
): Promise<void> {
  try {
    for (;;) {
      const { project } = store.getState().project;
      const made = project && (await make(project));
      if (!made) return;
      if (store.getState().project.project === project) return applyEdit(label, () => made, null, switched);
    }
  } catch (error) {
    wrong((error as Error).message);
  }
}

/** Hangs objects under another, or under the world; they stay where they are. What is to be done beside goes along. */
export async function hangUnder(ids: readonly string[], parent: string | null, beside: Edit = (p) => p): Promise<void> {
  const { frame, autoKey } = store.getState().ui;
  await applyWorkedOut('Hang under', async (project) => {
    let now = project;
    for (const id of ids) {
      if (id === parent) continue;
      const hung = await hungUnder(now, id, parent, frame, worldsOf, autoKey);
      const name = (of: string | null) => project.objects.find((o) => o.id === of)?.name ?? 'The world';
      if (hung === 'flat') {
        wrong(`"${name(parent)}" has a size of 0, so nothing can keep its place under it. Give it a size.`);
        return undefined;
      }
      if (!hung) continue;
      warnOfHanging(hung, name(id));
      now = hung.project;
    }
    return beside(now);
  });
}

function warnOfHanging({ residual, away }: Hung, name: string): void {
  warnOfShear(residual, name);
  if (away > 1e-4)
    wrong(
      `"${name}" keeps its place at each of its keys; between them it is up to ${formatNumber(away)} m away from where it was.`,
    );
}

/** Numbers without the dust of computing. */
export const tidied = (values: Readonly<Record<string, number>>): Record<string, number> =>
  Object.fromEntries(Object.entries(values).map(([c, v]) => [c, tidy(v)]));

/** Removes objects; what hung under them stays where it is, and nodes that read them go on as they did (DECISIONS 10). */
export async function removeFrozen(ids: readonly string[]): Promise<void> {
  const { frame } = store.getState().ui;
  if (ids.length === 0) return;
  await applyWorkedOut(ids.length > 1 ? 'Remove objects' : 'Remove object', async (project) => {
    const nameOf = (id: string) => project.objects.find((o) => o.id === id)?.name ?? id;
    const kept = await keepRemoved(catalogue(), project, ids, worldsOf);
    if (kept.residual > 1e-6)
      wrong(
        `What is removed was sheared or flattened by what carried it; nodes that read it go on without ${(kept.residual * 100).toPrecision(2)} % of its place or its rest.`,
      );
    let now = kept.project;
    for (const { id, parent } of orphansOf(project, ids)) {
      const hung = await hungUnder(now, id, parent, frame, worldsOf);
      if (!hung || hung === 'flat') continue;
      warnOfHanging(hung, nameOf(id));
      now = hung.project;
    }
    return removeObjects(ids)(now);
  });
  store.dispatch(objectsPicked([]));
}

/** Another pivot for an object, which stays where it is: its move makes up for it, in keys too. */
export const changePivot =
  (id: string, pivot: Vec3): Edit =>
  (p) => {
    const object = p.objects.find((o) => o.id === id);
    if (!object) return p;
    const local = channelsMatrix(object.channels, object.pivot);
    const { values } = channelsFor({ ...object, pivot }, local);
    const rest = channelsFor({ ...object, pivot, channels: object.rest }, channelsMatrix(object.rest, object.pivot));
    const at = (v: Readonly<Record<string, number>>): Vec3 => [v['translate.x'], v['translate.y'], v['translate.z']];
    const keyed = Object.keys(object.animated).some((c) => c.startsWith('translate') || c.startsWith('rotate'));
    const channels = {
      ...object.channels,
      translate: keyed ? object.channels.translate : at(tidied(values)),
    };
    return changeObject(id, {
      pivot,
      channels,
      rest: { ...object.rest, translate: at(tidied(rest.values)) },
    })(p);
  };

export const zeroPicked = (): void =>
  onPicked('Zero channels', (ids, frame) => zeroChannels(ids, frame, store.getState().ui.autoKey));
export const mirrorPicked = (axis: 'x' | 'y' | 'z'): void =>
  onPicked(`Mirror at ${axis}`, (ids, frame) => mirrorChannels(ids, axis, frame, store.getState().ui.autoKey));

/** Runs an edit on the picked objects, or says that none is picked. */
export function onPicked(label: string, edit: (ids: readonly string[], frame: number) => Edit): void {
  const { objects, frame } = store.getState().ui;
  if (objects.length === 0) return wrong('Pick an object first, in the scene list or in the stage.');
  applyEdit(label, edit(objects, frame));
}

/** Gives objects names from a pattern, in the order they were picked: `#` is the number. Nodes that name joints are told. */
export const renameMany =
  (ids: readonly string[], pattern: string): Edit =>
  (p) => {
    const nameAt = (i: number) =>
      pattern.includes('#') ? pattern.replaceAll('#', String(i + 1)) : i === 0 ? pattern : `${pattern} ${i + 1}`;
    const places = new Map(ids.map((id, i) => [id, i]));
    const isJoint = (o: ObjectRecord) => o.type === 'joint';
    const objects = p.objects.map((o) => (places.has(o.id) && !isJoint(o) ? { ...o, name: nameAt(places.get(o.id) ?? 0) } : o));
    const joints = objects.filter((o) => places.has(o.id) && isJoint(o));
    return joints.reduce<Project>((now, { id }) => renameObject(catalogue(), id, nameAt(places.get(id) ?? 0))(now), {
      ...p,
      objects,
    });
  };

/**
 * Changes the driver of a Hand-Over at a frame, without a pop: the dial steps there, and the channels get keys that keep
 * the object where it is.
 */
export async function keySwitch(child: ObjectRecord, channel: string, to: number): Promise<void> {
  const { frame } = store.getState().ui;
  await applyWorkedOut(
    'Key the switch',
    async (project) => {
      const made = await switchWithoutPop(catalogue(), project, child.id, channel, to, frame, (p, f) => worldsOf(p, child.id, f));
      if (!made) {
        wrong('The switch could not be worked out: a matrix cannot be inverted.');
        return undefined;
      }
      warnOfShear(made.residual, child.name);
      return made.project;
    },
    child.id,
  );
}
