import { counted, takeKeys } from '@umberfish/core';
import { catalogue } from '../../state/catalogue.ts';
import { applyEdit, store } from '../../state/store.ts';
import { remarked } from '../../state/ui-slice.ts';
import { openProjectFile } from '../../storage/files.ts';

/** So much of what no longer fits is told; the rest is counted. */
const TOLD = 6;

/** Takes what was animated in a copy back into the rig as it is now, as one step; tells what no longer fits. */
export async function takeKeysFrom(file: File): Promise<void> {
  const say = (text: string, kind: 'done' | 'wrong') => void store.dispatch(remarked({ text, kind }));
  try {
    const { project: animated } = await openProjectFile(file);
    const { project } = store.getState().project;
    if (!project) return;
    if (animated.id !== project.id && !animated.forAnimation)
      return say(`${file.name} is no file for animation. Save one in the menu of the project, and hand that out.`, 'wrong');
    const { project: joined, taken, left } = takeKeys(catalogue(), project, animated);
    applyEdit(`Take keys from ${file.name}`, () => joined);
    const more = left.length > TOLD ? [`And ${left.length - TOLD} more like these.`] : [];
    const told = [`Took ${counted(taken, 'channel')} and dials from ${file.name}.`, ...left.slice(0, TOLD), ...more].join(' ');
    say(told, left.length > 0 ? 'wrong' : 'done');
  } catch (error) {
    say(`${file.name}: ${(error as Error).message}`, 'wrong');
  }
}
