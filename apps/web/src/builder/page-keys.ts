import { useEffect } from 'react';
import { redone, undone } from '../state/project-slice.ts';
import { store } from '../state/store.ts';
import { uiSet } from '../state/ui-slice.ts';
import { saveProjectFile } from '../storage/files.ts';
import { arrange, toggleStageAlone } from './arrangement.ts';
import { GRAPH_COMMANDS } from './bench/graph-commands.ts';
import { keyBeside } from './keys/key-frames.ts';
import { keyPicked } from './scene/commands.ts';
import { FRAME_EVENT } from './stage/frame-event.ts';

/** Where letters are typed. */
const isTyping = (at: HTMLElement): boolean =>
  at.closest('input:not([type="checkbox"]), textarea, [contenteditable="true"]') !== null;

/** Where keys choose, or go through what is listed. */
const CHOOSING = '[role="menu"], [role="listbox"], [role="dialog"], [role="alertdialog"]';
const LISTED = `${CHOOSING}, [role="grid"], [role="tree"], [role="tablist"], [role="slider"], [data-graph-list]`;

/** Whether the focus was moved by the keyboard last, not by a click. (`:focus-visible` is true after any key.) */
let isByKeyboard = false;

/** What the keyboard went to and Space presses. After a click Space is the page's again. */
const isPressed = (at: HTMLElement): boolean =>
  at.closest(CHOOSING) !== null ||
  (isByKeyboard && at.closest('button, a, summary, [role="switch"], [role="checkbox"]') !== null);

const go = (frame: number | undefined) => frame !== undefined && store.dispatch(uiSet({ frame }));

function stepFrames(by: number): void {
  const { project, ui } = { project: store.getState().project.project, ui: store.getState().ui };
  if (project) go(Math.min(project.range.last, Math.max(project.range.first, ui.frame + by)));
}

/** What a key does wherever the focus is; undefined where it is left to what has the focus. */
function meaningOf(e: KeyboardEvent, at: HTMLElement): (() => void) | undefined {
  const key = e.key.toLowerCase();
  if (e.ctrlKey || e.metaKey) {
    if (key === 'z') return () => void store.dispatch(e.shiftKey ? redone() : undone());
    if (key === 'y') return () => void store.dispatch(redone());
    if (key === 's') {
      const { project } = store.getState().project;
      return () => project && saveProjectFile(project);
    }
    // Nothing on the page is text to be selected.
    return key === 'a' && !isTyping(at) ? () => {} : undefined;
  }
  if (e.altKey || isTyping(at)) return undefined;
  const anywhere: Record<string, () => void> = {
    k: keyPicked,
    ...(store.getState().ui.animating ? {} : { w: e.shiftKey ? toggleStageAlone : arrange }),
    h: () => go(keyBeside(-1)),
    j: () => go(keyBeside(1)),
    f: () => window.dispatchEvent(new CustomEvent(FRAME_EVENT)),
  };
  if (key in anywhere && at.closest(CHOOSING) === null) return anywhere[key];
  if (key === ' ') return isPressed(at) ? undefined : () => void store.dispatch(uiSet({ playing: !store.getState().ui.playing }));
  if (at.closest(LISTED)) return undefined;
  const elsewhere: Record<string, () => void> = {
    arrowleft: () => stepFrames(-1),
    arrowright: () => stepFrames(1),
    ...(store.getState().ui.animating ? {} : { pagedown: GRAPH_COMMANDS.next.run, pageup: GRAPH_COMMANDS.previous.run }),
  };
  return elsewhere[key];
}

/** Keys of the whole page; what has the focus goes first. */
export function usePageKeys(): void {
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const isUndo = (e.ctrlKey || e.metaKey) && ['z', 'y', 's'].includes(e.key.toLowerCase());
      if (e.defaultPrevented && !isUndo) return;
      const run = meaningOf(e, e.target instanceof HTMLElement ? e.target : document.body);
      if (!run) return;
      run();
      e.preventDefault();
    };
    const onTab = (e: KeyboardEvent) => e.key === 'Tab' && (isByKeyboard = true);
    const onPointer = () => (isByKeyboard = false);
    window.addEventListener('keydown', onKey);
    window.addEventListener('keydown', onTab, true);
    window.addEventListener('pointerdown', onPointer, true);
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keydown', onTab, true);
      window.removeEventListener('pointerdown', onPointer, true);
    };
  }, []);
}
