import {
  CONSTRAINT_RULES,
  type ConstraintKind,
  switchDial,
  channelsOf,
  PLACE_CHANNELS,
  keyInputs,
  keyReach,
  reachOf,
  reachWithin,
  keyChannels,
  numberAt,
} from '@umberfish/core';
import { engine } from '../../engine/index.ts';
import { fileName } from '../../storage/files.ts';
import { downloadFile } from '../exporting.ts';
import { applyEdit, selectProject, store } from '../../state/store.ts';
import { remarked, uiSet } from '../../state/ui-slice.ts';
import type { PageCommand } from '../page-command.ts';
import { constrain } from './constrain.ts';
import { hangUnder, keySwitch, mirrorPicked, onPicked, zeroPicked } from './pose-commands.ts';
import { catalogue } from '../../state/catalogue.ts';

/**
 * Keys every channel of the picked objects, their dials too; or every number typed into the picked nodes. Animators key what
 * is handed out of what is picked, with the dials that act on it.
 */
export function keyPicked(): void {
  const project = selectProject(store.getState());
  const { nodes, objects, graph, frame } = store.getState().ui;
  if (project && store.getState().ui.animating) {
    const all = reachOf(catalogue(), project);
    const mine = objects.length > 0 ? reachWithin(catalogue(), project, all, objects) : all;
    return void applyEdit('Set keys', keyReach(catalogue(), mine, frame));
  }
  if (nodes.length > 0 && objects.length === 0 && graph !== null)
    return void applyEdit('Set keys', keyInputs(catalogue(), graph, nodes, frame));
  onPicked('Set keys', (ids, frame) => {
    const own = project?.objects.filter((o) => ids.includes(o.id)).flatMap((o) => channelsOf(o)) ?? [];
    return keyChannels(ids, [...new Set([...PLACE_CHANNELS, ...own])], frame);
  });
}

/** Hangs all picked objects but the last under the last. */
function hangUnderLast(): void {
  const { objects } = store.getState().ui;
  const under = objects[objects.length - 1];
  if (objects.length < 2)
    return void store.dispatch(remarked({ text: 'Pick the objects, then the one they should hang under.', kind: 'wrong' }));
  void hangUnder(objects.slice(0, -1), under);
}

/** Draws the way of the picked objects over the range, or no more. */
export function toggleTrails(): void {
  const { objects, trails } = store.getState().ui;
  const picked = objects.length > 0 ? objects : trails;
  const off = picked.every((id) => trails.includes(id));
  store.dispatch(uiSet({ trails: off ? trails.filter((id) => !picked.includes(id)) : [...new Set([...trails, ...picked])] }));
}

/** Hands the picked object to the next driver of its Hand-Over at this frame, without a pop. */
function switchPicked(): void {
  const project = selectProject(store.getState());
  const { objects, frame } = store.getState().ui;
  const child = project?.objects.find((o) => o.id === objects[0]);
  const channel = project && switchDial(catalogue(), project, objects[0]);
  const dial = child?.custom.find((c) => c.id === channel);
  if (!project || !child || !dial)
    return void store.dispatch(remarked({ text: 'Pick an object with a Hand-Over and its dial first.', kind: 'wrong' }));
  const now = Math.round(numberAt(project, child, dial.id, frame));
  const to = now + 1 > dial.max ? dial.min : now + 1;
  void keySwitch(child, dial.id, to);
}

/** Downloads the motion of the picked objects over the range. */
async function saveMotion(format: 'glb' | 'csv'): Promise<void> {
  const project = selectProject(store.getState());
  const { objects } = store.getState().ui;
  if (!project || objects.length === 0)
    return void store.dispatch(remarked({ text: 'Pick the objects whose motion is to be saved.', kind: 'wrong' }));
  try {
    const first = project.objects.find((o) => o.id === objects[0])?.name ?? 'objects';
    const { files, notes } = await engine.writeObjects(project, objects, format, fileName(first));
    for (const file of files) downloadFile(file);
    store.dispatch(remarked({ text: [`Wrote ${files[0].name}.`, ...notes].join(' '), kind: 'done' }));
  } catch (error) {
    store.dispatch(remarked({ text: (error as Error).message, kind: 'wrong' }));
  }
}

/** Commands on the picked objects, for the palette. */
export const poseCommands = (onRename: (ids: readonly string[]) => void, onReadCsv: () => void): PageCommand[] => [
  ...(Object.keys(CONSTRAINT_RULES) as ConstraintKind[]).map((kind) => ({
    label: `${CONSTRAINT_RULES[kind].title}: constrain the first picked object by the others`,
    run: () => void constrain(kind),
  })),
  { label: 'Set keys on all channels or numbers of what is picked', keys: 'K', run: keyPicked },
  { label: 'Hand over to the next driver here, without a pop', run: switchPicked },
  { label: 'Hang the picked objects under the last picked', run: hangUnderLast },
  {
    label: 'Hang the picked objects under the world',
    run: () => void hangUnder(store.getState().ui.objects, null),
  },
  { label: 'Zero the channels of what is picked', run: zeroPicked },
  ...(['x', 'y', 'z'] as const).map((axis) => ({
    label: `Mirror the channels of what is picked at ${axis}`,
    run: () => mirrorPicked(axis),
  })),
  { label: 'Motion trail of what is picked, on or off', run: toggleTrails },
  { label: 'Save the motion of what is picked as GLB', run: () => void saveMotion('glb') },
  { label: 'Save the channels of what is picked as CSV', run: () => void saveMotion('csv') },
  { label: 'Read channels from a CSV…', run: () => onReadCsv() },
  { label: 'Rename what is picked…', run: () => onRename(store.getState().ui.objects) },
];
