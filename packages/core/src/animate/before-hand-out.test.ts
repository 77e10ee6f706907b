import { expect, test } from 'vitest';
import { removeWires, setInput, setSetting, type Edit } from '../edits/document.ts';
import { makeGrid } from '../geometry/primitives.ts';
import { takeSnapshot } from '../edits/take-snapshot.ts';
import { Evaluator } from '../graph/evaluate/evaluator.ts';
import type { Snapshot } from '../project/fields.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { makeObject } from '../project/kinds/index.ts';
import type { Project } from '../project/schema.ts';
import { graph, node, project } from '../testing/build.ts';
import { writeChannels } from '../edits/channel-edits.ts';
import { checkHandOut } from './before-hand-out.ts';
import { refusedChange } from './guard.ts';
import { addPage } from './hand-out-edits.ts';
import { handedOut, reachOf } from './reach.ts';

const own = (id: string, name: string) => ({ id, name, value: 0.2, default: 0, min: 0, max: 1, unit: '' });

/** A mesh that swells by a channel of its own, and a boom whose height a graph drives. */
const rig = (): Project =>
  project(
    [
      graph(
        [
          node('read', 'scene-mesh', { settings: { object: 'fish' } }),
          node('breath', 'read-channel', { settings: { object: 'prop', channel: 'breath' } }),
          node('bump', 'bulge', { inputs: { height: 0.4 } }),
          node('show', 'show-mesh', { settings: { object: 'fish' } }),
          node('drive', 'drive-object', { settings: { object: 'prop', is: 'channels', translate: 'y' } }),
        ],
        ['read.mesh > bump.mesh', 'bump.mesh > show.mesh', 'breath.value > bump.radius'],
      ),
    ],
    [0, 0, 0],
    [makeObject('prop', 'Boom', 'prop', { custom: [own('breath', 'breath'), own('spare', 'spare')] })],
  );
const page: Edit = addPage('Body', [
  { kind: 'object', object: 'prop', channels: ['translate.x', 'translate.y', 'breath', 'spare'], name: '' },
  { kind: 'dials', node: 'bump', dials: ['height', 'centre'], name: '' },
]);
const found = (...edits: Edit[]): string[] => {
  const p = [page, ...edits].reduce((q, edit) => edit(q), rig());
  const assets = new Map([['mesh', makeGrid([1, 1], [8, 8])]]);
  return checkHandOut(CATALOGUE, { project: p, assets, repairs: [] }, 1).map((f) => `${f.where}: ${f.message}`);
};

test('what a graph drives is not handed out, whatever a page says; that is told, and the guard keeps it', () => {
  const p = page(rig());
  expect(reachOf(CATALOGUE, p).objects.get('prop')).toEqual(['translate.x', 'breath', 'spare']);
  expect(handedOut(CATALOGUE, p).problems).toEqual([
    'Page "Body" hands out move y of "Boom", which a graph drives: it cannot be turned by hand.',
  ]);
  expect(refusedChange(CATALOGUE, p, writeChannels('prop', { 'translate.y': 2 }, 1, false)(p))).toMatch(/driven by a graph/);
  expect(refusedChange(CATALOGUE, p, writeChannels('prop', { 'translate.x': 2 }, 1, false)(p))).toBeUndefined();
  // Without pages they get everything else.
  expect(reachOf(CATALOGUE, rig()).objects.get('prop')).not.toContain('translate.y');
});

test('a dial that moves nothing is told; one that waits for another, or stands at the end of its range, is not', () => {
  const told = (edits: Edit[]) => found(...edits).filter((t) => t.includes('moves nothing'));
  expect(told([])).toEqual([expect.stringMatching(/^Boom: "spare" moves nothing at frame 1\./)]);
  // With no height, neither the middle nor the reach does anything until it is turned.
  expect(told([setInput('graph', 'bump', 'height', 0)])).toHaveLength(1);
  expect(told([writeChannels('prop', { breath: 1, spare: 1 }, 1, false)])).toHaveLength(1);
  const unread = told([removeWires('graph', ['breath.value > bump.radius'])]);
  expect(unread.map((t) => t.split('"')[1])).toEqual(['breath', 'spare']);
});

test('the dial of a hand-over moves nothing where its snapshot was taken, and is no idle one', () => {
  const drivers = ['a', 'b'].map((id) => makeObject(id, id, 'locator'));
  const held = makeObject('held', 'Lantern', 'prop', { custom: [own('by', 'held by')] });
  const p = project(
    [
      graph(
        [
          ...drivers.map(({ id }) => node(id, 'scene-locator', { settings: { object: id } })),
          node('dial', 'read-channel', { settings: { object: 'held', channel: 'by' } }),
          node('hand', 'hand-over', { settings: { object: 'held' } }),
          node('drive', 'drive-object', { settings: { object: 'held' } }),
        ],
        ['a.matrix > hand.a', 'b.matrix > hand.b', 'dial.value > hand.dial', 'hand.carrier > drive.matrix'],
      ),
    ],
    [0, 0, 0],
    [...drivers, held],
  );
  const snapshot = takeSnapshot(new Evaluator(CATALOGUE), p, 1, 'hand') as Snapshot;
  const whole = setSetting(CATALOGUE, 'graph', 'hand', 'snapshot', snapshot)(p);
  const handed = addPage('Hands', [{ kind: 'object', object: 'held', channels: ['by'], name: '' }])(whole);
  expect(checkHandOut(CATALOGUE, { project: handed, assets: new Map(), repairs: [] }, 1)).toEqual([]);
});

test('what is broken is told before it leaves', () => {
  expect(found().filter((t) => t.includes('no longer'))).toEqual([]);
  const lost = found(setSetting(CATALOGUE, 'graph', 'read', 'object', 'nobody'));
  expect(lost.some((t) => t.startsWith('graph / '))).toBe(true);
  // A warning is for who builds the rig, and no reason to hold it back.
  const far = found(setInput('graph', 'bump', 'centre', [50, 0, 0]));
  expect(far.filter((t) => !t.includes('moves nothing') && !t.startsWith('Hand out'))).toEqual([]);
});
