import {
  betweenKeys,
  blendPoses,
  changePose,
  fittingPose,
  keepPose,
  mirrorPose,
  reachOf,
  reachWithin,
  readPose,
  restPose,
  writePose,
  type MirrorAxis,
  type PoseRecord,
  type PoseValues,
  type Project,
  type Reach,
} from '@umberfish/core';
import { stagePicture } from '../builder/stage/thumbnail.ts';
import { catalogue } from '../state/catalogue.ts';
import { applyEdit, store } from '../state/store.ts';
import { remarked } from '../state/ui-slice.ts';

/** The size of a pose's picture (pixels). */
const PICTURE = { wide: 252, high: 168 };

interface Now {
  readonly project: Project;
  readonly frame: number;
  readonly autoKey: boolean;
  /** All that is handed out, and what of it belongs to what is picked: all of it where nothing is. */
  readonly reach: Reach;
  readonly mine: Reach;
}

function now(): Now | null {
  const { project, ui } = store.getState();
  if (!project.project) return null;
  const { frame, autoKey, objects } = ui;
  const reach = reachOf(catalogue(), project.project);
  const mine = objects.length > 0 ? reachWithin(catalogue(), project.project, reach, objects) : reach;
  return { project: project.project, frame, autoKey, reach, mine };
}

const say = (text: string, kind: 'done' | 'wrong') => void store.dispatch(remarked({ text, kind }));
const countOf = (v: PoseValues) =>
  [...Object.values(v.objects), ...Object.values(v.dials)].reduce((n, part) => n + Object.keys(part).length, 0);

/** Keeps the pose of what is picked, or of everything, with a picture of the stage. */
export function keepThisPose(): void {
  const n = now();
  if (!n) return;
  const values = readPose(catalogue(), n.project, n.frame, n.mine);
  if (countOf(values) === 0) return say('There is nothing to keep: nothing that is picked is handed out.', 'wrong');
  applyEdit('Keep a pose', keepPose(values, stagePicture.take?.(PICTURE.wide, PICTURE.high) ?? null));
}

/** Takes what a pose holds as it is now, in its place; what is gone or not handed out keeps the number it has there. */
export function renewPose(pose: PoseRecord): void {
  const n = now();
  if (!n) return;
  const held = withinBoth(readPose(catalogue(), n.project, n.frame, n.reach), pose.values);
  if (countOf(held) === 0) return say(`Nothing that "${pose.name}" holds is handed out here, so it stays as it is.`, 'wrong');
  const values: PoseValues = {
    objects: merged(pose.values.objects, held.objects),
    dials: merged(pose.values.dials, held.dials),
  };
  const picture = stagePicture.take?.(PICTURE.wide, PICTURE.high) ?? null;
  applyEdit(`Renew ${pose.name}`, changePose(pose.id, { values, picture }));
}

/** What poses are blended from, while one slider is dragged. */
export interface PoseStart {
  readonly values: PoseValues;
  readonly project: Project;
}

/** What a pose slider begins at. */
export function poseStart(): PoseStart | null {
  const n = now();
  return n && { values: readPose(catalogue(), n.project, n.frame, n.reach), project: n.project };
}

/**
 * Puts a pose where it fits, a part of the way from where a slider began: 1 is the whole pose.
 * @param onPicked on what is picked alone
 */
export function applyPose(
  pose: { readonly name: string; readonly values: PoseValues },
  amount: number,
  start: PoseStart,
  { gesture = null, onPicked = false }: { gesture?: string | null; onPicked?: boolean } = {},
): void {
  const n = now();
  if (!n) return;
  const fitting = fittingPose(catalogue(), n.project, pose.values, onPicked ? n.mine : n.reach);
  if (countOf(fitting.values) === 0) {
    const why = onPicked ? ['It has nothing of what is picked.'] : fitting.problems;
    return say([`"${pose.name}" fits nothing here.`, ...why].join(' '), 'wrong');
  }
  const blended = blendPoses(n.project, start.values, fitting.values, amount);
  // At 0 everything is as it was, whatever the slider went over before.
  const target = amount === 0 ? withinBoth(start.values, fitting.values) : blended;
  applyEdit(pose.name, writePose(catalogue(), target, n.frame, n.autoKey), gesture);
  if (gesture === null && !onPicked && fitting.problems.length > 0) say(`"${pose.name}": ${fitting.problems.join(' ')}`, 'wrong');
}

/** Of some values those that others have too. */
const withinBoth = (values: PoseValues, others: PoseValues): PoseValues => ({
  objects: partsWithin(values.objects, others.objects),
  dials: partsWithin(values.dials, others.dials),
});

function partsWithin<T>(
  values: Readonly<Record<string, Readonly<Record<string, T>>>>,
  others: Readonly<Record<string, Readonly<Record<string, T>>>>,
): Record<string, Record<string, T>> {
  return Object.fromEntries(
    Object.entries(values).flatMap(([id, part]) => {
      const kept = Object.entries(part).filter(([k]) => others[id] && k in others[id]);
      return kept.length > 0 ? [[id, Object.fromEntries(kept)]] : [];
    }),
  );
}

const merged = <T>(
  all: Readonly<Record<string, Readonly<Record<string, T>>>>,
  some: Readonly<Record<string, Readonly<Record<string, T>>>>,
): Record<string, Record<string, T>> =>
  Object.fromEntries(Object.entries(all).map(([id, part]) => [id, { ...part, ...(some[id] as Record<string, T> | undefined) }]));

export function toRest(): void {
  const n = now();
  if (!n) return;
  applyEdit('To rest', writePose(catalogue(), restPose(catalogue(), n.project, n.mine), n.frame, n.autoKey));
}

/** What is picked, or everything, as it would be in a mirror across an axis of what it hangs under. */
function mirrored(axis: MirrorAxis) {
  const n = now();
  if (!n) return undefined;
  const { values, problems } = mirrorPose(n.project, readPose(catalogue(), n.project, n.frame, n.mine), axis, n.project.sides);
  const fitting = fittingPose(catalogue(), n.project, values, n.reach);
  return { ...n, values: fitting.values, problems: [...problems, ...fitting.problems] };
}

/** Of so many objects names are told. */
const NAMED = 2;

/** Which objects a mirror would write, whether they are picked or not, in words. */
export function mirrorWrites(axis: MirrorAxis): string {
  const m = mirrored(axis);
  const ids = m ? Object.keys(m.values.objects) : [];
  if (!m || ids.length === 0) return 'nothing to write';
  const { objects } = store.getState().ui;
  const nameOf = (id: string) => m.project.objects.find((o) => o.id === id)?.name ?? '';
  const more = ids.length > NAMED ? ` and ${ids.length - NAMED} more` : '';
  const others = objects.length > 0 && ids.some((id) => !objects.includes(id)) ? ', not picked' : '';
  return `writes ${ids.slice(0, NAMED).map(nameOf).join(', ')}${more}${others}`;
}

/** Mirrors what is picked, or everything, and says what was written. */
export function mirrorNow(axis: MirrorAxis): void {
  const m = mirrored(axis);
  if (!m) return;
  const done = mirrorWrites(axis);
  applyEdit(`Mirror at ${axis}`, writePose(catalogue(), m.values, m.frame, m.autoKey));
  if (m.problems.length > 0) say(m.problems.slice(0, 3).join(' '), 'wrong');
  else say(`Mirrored across ${axis}: ${done}.`.replace(': writes', ': wrote'), 'done');
}

let copied: PoseValues | null = null;

export function copyPose(): void {
  const n = now();
  if (!n) return;
  copied = readPose(catalogue(), n.project, n.frame, n.mine);
  say('The pose is copied. Paste it at another frame.', 'done');
}

export function pastePose(): void {
  const start = poseStart();
  if (!copied) return say('No pose was copied yet.', 'wrong');
  if (start) applyPose({ name: 'The copied pose', values: copied }, 1, start);
}

/** Sets a pose between the keys before and after this frame. @returns whether there was anything to set */
export function poseBetween(favour: number, gesture: string): boolean {
  const n = now();
  if (!n) return false;
  const values = betweenKeys(catalogue(), n.project, n.frame, n.mine, favour);
  if (countOf(values) === 0) return false;
  applyEdit('Between two keys', writePose(catalogue(), values, n.frame, n.autoKey), gesture);
  return true;
}
