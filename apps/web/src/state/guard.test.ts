import { afterEach, beforeEach, expect, test } from 'vitest';
import { addPage, changeObject, makeObject, makeProject, writeChannels, type Edit, type Project } from '@umberfish/core';
import { closed, opened, redone, undone } from './project-slice.ts';
import { applyEdit, selectProject, store } from './store.ts';
import { uiSet } from './ui-slice.ts';

const objects = () => selectProject(store.getState())!.objects;
const x = (id: string) => objects().find((o) => o.id === id)!.channels.translate[0];
const remark = () => store.getState().ui.remark?.text;
const move = (id: string, to: number): Edit => writeChannels(id, { 'translate.x': to }, 1, false);

function open(more: Partial<Project> = {}): void {
  const plain: Project = {
    ...makeProject('p', 'P'),
    objects: [makeObject('fin', 'Fin', 'locator'), makeObject('spine', 'Spine', 'locator')],
    ...more,
  };
  const project = addPage('Body', [{ kind: 'object', object: 'fin', channels: ['translate.x'], name: '' }])(plain);
  store.dispatch(opened({ project, repairs: [] }));
}

beforeEach(() => open());
afterEach(() => {
  store.dispatch(uiSet({ animating: false, remark: null }));
  store.dispatch(closed());
});

test('on Build everything may change', () => {
  applyEdit('Move', move('spine', 1));
  applyEdit('Rename', changeObject('fin', { name: 'Tail' }));
  expect([x('spine'), objects()[0].name]).toEqual([1, 'Tail']);
});

test('on Animate what is handed out changes; the rest is refused, told, and leaves no step behind', () => {
  store.dispatch(uiSet({ animating: true }));
  applyEdit('Move', move('fin', 2), 'drag');
  applyEdit('Move', move('fin', 3), 'drag');
  expect(x('fin')).toBe(3);
  const steps = store.getState().project.past.length;
  applyEdit('Move', move('spine', 1), 'drag');
  expect([x('spine'), remark()]).toEqual([0, expect.stringContaining('"Spine", move x, is not handed out')]);
  applyEdit('Rename', changeObject('fin', { name: 'Tail' }));
  expect([objects()[0].name, remark()]).toEqual(['Fin', expect.stringContaining('The name of "Fin" is part of the rig')]);
  expect(store.getState().project.past).toHaveLength(steps);
  // An edit that does both does neither.
  applyEdit('Both', (p) => move('spine', 1)(move('fin', 9)(p)));
  expect([x('fin'), x('spine')]).toEqual([3, 0]);
});

test('undo and redo go no further than animators may: what was done on Build stays, and can be undone there', () => {
  applyEdit('Move', move('spine', 1));
  store.dispatch(uiSet({ animating: true }));
  applyEdit('Move', move('fin', 2));
  store.dispatch(undone());
  expect(x('fin')).toBe(0);
  store.dispatch(undone());
  expect([x('spine'), remark()]).toEqual([1, expect.stringContaining('is not handed out')]);
  expect(store.getState().project.past).toHaveLength(1);
  store.dispatch(redone());
  expect(x('fin')).toBe(2);
  store.dispatch(uiSet({ animating: false }));
  store.dispatch(undone());
  store.dispatch(undone());
  expect(x('spine')).toBe(0);
  store.dispatch(uiSet({ animating: true }));
  store.dispatch(redone());
  expect(x('spine')).toBe(0);
});

test('a project for animation is guarded wherever it is looked at', () => {
  open({ forAnimation: true });
  applyEdit('Move', move('spine', 1));
  expect([x('spine'), remark()]).toEqual([0, expect.stringContaining('is not handed out')]);
  applyEdit('Move', move('fin', 1));
  expect(x('fin')).toBe(1);
});
