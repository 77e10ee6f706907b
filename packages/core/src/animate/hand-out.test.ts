import { describe, expect, test } from 'vitest';
import { makeKey, trackOf } from '../scene/keys.ts';
import { handedRows } from './handed-rows.ts';
import { keyChannels, markChannels, writeChannels } from '../edits/channel-edits.ts';
import {
  addNode,
  changeGraph,
  changeObject,
  connect,
  removeNodes,
  removeObjects,
  setInput,
  setSetting,
  type Edit,
} from '../edits/document.ts';
import { CATALOGUE } from '../nodes/index.ts';
import { makeObject } from '../project/kinds/index.ts';
import { readProjectFile, writeProjectFile } from '../project/file.ts';
import type { Project } from '../project/schema.ts';
import { PLACE_CHANNELS } from '../scene/channels.ts';
import { graph, node, project } from '../testing/build.ts';
import { switchDial } from '../edits/switch.ts';
import { refusedChange } from './guard.ts';
import {
  addPage,
  changePage,
  dropHandOut,
  forAnimation,
  movePartOnPage,
  putPart,
  removePage,
  removePart,
} from './hand-out-edits.ts';
import { keepPose } from './pose-edits.ts';
import { writePose } from './pose-values.ts';
import { handedOut, reachOf } from './reach.ts';
import { takeKeys } from './take-keys.ts';

const DIAL = { id: 'held', name: 'held by', value: 0, default: 0, min: 0, max: 2, unit: '' };

const plain = (): Project =>
  project(
    [
      graph(
        [
          node('read', 'scene-mesh', { settings: { object: 'fish' } }),
          node('where', 'scene-locator', { settings: { object: 'here' } }),
          node('bump', 'bulge', { inputs: { height: 0.4 } }),
          node('show', 'show-mesh', { settings: { object: 'fish' } }),
        ],
        ['read.mesh > bump.mesh', 'bump.mesh > show.mesh', 'where.position > bump.centre'],
      ),
    ],
    [0, 0, 0],
    [makeObject('prop', 'Lantern', 'prop', { custom: [DIAL], locked: ['scale.x'] })],
  );
const TURN = ['rotate.x', 'rotate.y', 'rotate.z'];
/** The locator moves, the lantern turns and has its dial, the bulge its height. */
const handed = (): Project =>
  [
    addPage('Body', [{ kind: 'object', object: 'here', channels: ['translate.x', 'translate.y'], name: 'Swell' }]),
    addPage('Props', [
      { kind: 'object', object: 'prop', channels: [...TURN, 'scale.x', 'held'], name: '' },
      { kind: 'dials', node: 'bump', dials: ['height', 'centre'], name: 'Bump' },
    ]),
  ].reduce((p, edit) => edit(p), plain());

describe('what is handed out', () => {
  test('pages, in order and under their names; what is locked or wired is not to be changed', () => {
    const p = handed();
    const { pages, problems } = handedOut(CATALOGUE, p);
    expect(pages.map((page) => [page.name, page.parts.map((part) => part.name)])).toEqual([
      ['Body', ['Swell']],
      ['Props', ['Lantern', 'Bump']],
    ]);
    expect(problems).toEqual([]);
    const { objects, dials } = reachOf(CATALOGUE, p);
    expect([...objects]).toEqual([
      ['here', ['translate.x', 'translate.y']],
      ['prop', [...TURN, 'held']],
    ]);
    expect([...dials]).toEqual([['bump', ['height']]]);
  });

  test('without one, everything: all channels that are not locked', () => {
    const { objects } = reachOf(CATALOGUE, plain());
    expect([...objects.keys()]).toEqual(['fish', 'here', 'prop']);
    expect(objects.get('prop')).toEqual([...PLACE_CHANNELS.filter((c) => c !== 'scale.x'), 'held']);
  });

  test('what is gone is told in a sentence each, and the rest is there', () => {
    const p = [removeObjects(['here']), removeNodes('graph', ['bump']), changeObject('prop', { custom: [] })].reduce(
      (q, edit) => edit(q),
      handed(),
    );
    const { pages, problems } = handedOut(CATALOGUE, p);
    expect(problems).toEqual([
      'Page "Body" hands out "Swell", which is no longer there.',
      'Page "Props" hands out channels of "Lantern" that are no longer there.',
      'Page "Props" hands out "Bump", whose card is no longer there.',
    ]);
    expect(pages.map((page) => page.parts.length)).toEqual([0, 1]);
  });

  test('pages and parts are added, changed, ordered and taken away; a part is on a page once', () => {
    let p = handed();
    const [body, props] = p.handOut!.pages;
    p = putPart(props.id, { kind: 'object', object: 'prop', channels: ['held'], name: 'Held' })(p);
    p = movePartOnPage(props.id, 1, 0)(p);
    p = movePartOnPage(props.id, 0, 9)(p);
    expect(p.handOut!.pages[1].parts.map((x) => x.name)).toEqual(['Bump', 'Held']);
    p = removePart(props.id, { kind: 'dials', node: 'bump', dials: [], name: '' })(p);
    p = changePage(props.id, { name: 'Hands' })(removePage(body.id)(p));
    expect(p.handOut!.pages.map((x) => [x.name, x.parts.length])).toEqual([['Hands', 1]]);
    expect(dropHandOut(p).handOut).toBeNull();
    expect(readProjectFile(writeProjectFile(p, new Map())).project.handOut).toEqual(p.handOut);
  });
});

describe('what an animator may not change is refused', () => {
  const refused = (edit: Edit, p = handed()) => refusedChange(CATALOGUE, p, edit(p));

  test('numbers and keys of what is handed out, poses and views go through', () => {
    for (const edit of [
      writeChannels('here', { 'translate.x': 2 }, 1, false),
      writeChannels('here', { 'translate.y': 2 }, 1, true),
      keyChannels(['prop'], ['held', 'rotate.x'], 3),
      writeChannels('prop', { held: 1 }, 1, false),
      setInput('graph', 'bump', 'height', 2),
      writePose(CATALOGUE, { objects: { here: { 'translate.x': 3 } }, dials: { bump: { height: 1 } } }, 4, true),
      keepPose({ objects: {}, dials: {} }, null),
      addPage('Mine'),
      (p: Project) => ({ ...p }),
    ])
      expect(refused(edit)).toBeUndefined();
  });

  const cases: [string, Edit, RegExp][] = [
    [
      'a channel that is not handed out',
      writeChannels('here', { 'translate.z': 2 }, 1, false),
      /"Here", move z, is not handed out/,
    ],
    ['a key of one', keyChannels(['fish'], ['translate.x'], 1), /"Fish", move x, is not handed out/],
    [
      'a locked one, by force',
      changeObject('prop', { animated: { 'scale.x': { expression: 't' } } }),
      /"Lantern", size x, is not handed out/,
    ],
    ['an object gone', removeObjects(['prop']), /Which objects there are/],
    ['an object more', (p) => ({ ...p, objects: [...p.objects, makeObject('x', 'X', 'prop')] }), /Which objects there are/],
    ['their order', (p) => ({ ...p, objects: [...p.objects].reverse() }), /The order of objects/],
    ['a name', changeObject('here', { name: 'There' }), /The name of "Here"/],
    ['a parent', changeObject('here', { parent: 'fish' }), /The parent of "Here"/],
    ['a lock', markChannels(['prop'], 'locked', ['scale.x'], false), /The lock on channels of "Lantern"/],
    ['a dial of an object', changeObject('prop', { custom: [{ ...DIAL, max: 9 }] }), /Which dials "Lantern" has/],
    [
      'the order of turns',
      (p) => ({ ...p, objects: p.objects.map((o) => ({ ...o, channels: { ...o.channels, order: 'zyx' as const } })) }),
      /order of turns/,
    ],
    ['a dial of a card that is not handed out', setInput('graph', 'bump', 'radius', 3), /Bulge, radius, is not handed out/],
    ['a dial that a wire feeds', setInput('graph', 'bump', 'centre', [1, 1, 1]), /Bulge, centre, is not handed out/],
    ['a setting', setSetting(CATALOGUE, 'graph', 'where', 'object', 'fish'), /not handed out|part of the rig/],
    ['a card more', addNode('graph', node('new', 'number')), /part of the rig/],
    ['a card gone', removeNodes('graph', ['bump']), /part of the rig/],
    ['the name of a graph', changeGraph('graph', { name: 'Other' }), /part of the rig/],
    ['another graph', (p) => ({ ...p, graphs: [...p.graphs, graph([], [], 'g2')] }), /part of the rig/],
    [
      'a skipped card',
      (p) => ({ ...p, graphs: p.graphs.map((g) => ({ ...g, nodes: g.nodes.map((n) => ({ ...n, skip: true })) })) }),
      /part of the rig/,
    ],
    ['the rate', (p) => ({ ...p, frameRate: 25 }), /part of the rig/],
    ['what it is for', (p) => ({ ...p, forAnimation: true }), /part of the rig/],
  ];
  test.each(cases)('%s', (_, edit, sentence) => expect(refused(edit)).toMatch(sentence));

  test('handing over takes the place along, where its dial is handed out', () => {
    const over = project(
      [
        graph(
          [
            node('dial', 'read-channel', { settings: { object: 'prop', channel: 'held' } }),
            node('a', 'scene-locator', { settings: { object: 'here' } }),
            node('hand', 'hand-over', { settings: { object: 'prop' } }),
            node('drive', 'drive-object', { settings: { object: 'prop' } }),
          ],
          ['dial.value > hand.dial', 'a.world > hand.a', 'hand.carrier > drive.carrier'],
        ),
      ],
      [0, 0, 0],
      [makeObject('prop', 'Lantern', 'prop', { custom: [DIAL] })],
    );
    const given = (channels: readonly string[]) => addPage('P', [{ kind: 'object', object: 'prop', channels, name: '' }])(over);
    const jump: Edit = (p) => writeChannels('prop', { held: 1, 'translate.x': 4, 'scale.y': 2 }, 3, true)(p);
    expect(switchDial(CATALOGUE, over, 'prop')).toBe('held');
    const p = given(['held']);
    expect(refusedChange(CATALOGUE, p, jump(p))).toMatch(/"Lantern", move x, is not handed out/);
    expect(refusedChange(CATALOGUE, p, jump(p), 'prop')).toBeUndefined();
    expect(refusedChange(CATALOGUE, p, jump(p), 'here')).toMatch(/"Lantern", move x/);
    const q = given(['rotate.x']);
    expect(refusedChange(CATALOGUE, q, jump(q), 'prop')).toMatch(/"Lantern", move x/);
  });

  test('a change cannot hand out to itself what it changes', () => {
    const both: Edit = (p) => writeChannels('fish', { 'translate.x': 1 }, 1, false)(dropHandOut(p));
    expect(refused(both)).toMatch(/"Fish", move x, is not handed out/);
  });
});

describe('keys are taken back', () => {
  test('into a newer rig: numbers, keys, dials and poses; what no longer fits is told', () => {
    const copy = forAnimation(handed());
    const animated = [
      writeChannels('here', { 'translate.x': 2, 'translate.y': 3 }, 7, true),
      keyChannels(['prop'], ['held'], 3),
      setInput('graph', 'bump', 'height', 1.5),
      keepPose({ objects: {}, dials: {} }, null, 'Startled'),
    ].reduce((p, edit) => edit(p), copy);
    // The rig went on: another object, a dial gone, a number that is not handed out.
    const rig = [
      changeObject('prop', { custom: [] }),
      writeChannels('here', { 'translate.z': 9 }, 1, false),
      (p: Project) => ({ ...p, objects: [...p.objects, makeObject('new', 'New', 'prop')] }),
    ].reduce((p, edit) => edit(p), handed());
    const { project: joined, left } = takeKeys(CATALOGUE, rig, animated);
    const here = joined.objects.find((o) => o.id === 'here')!;
    expect(here.animated).toEqual(animated.objects.find((o) => o.id === 'here')!.animated);
    expect(here.channels.translate[2]).toBe(9);
    expect(joined.graphs[0].nodes.find((n) => n.id === 'bump')!.inputs.height).toBe(1.5);
    expect(joined.poses.map((x) => x.name)).toEqual(['Startled']);
    expect(joined.forAnimation).toBe(false);
    expect(joined.objects).toHaveLength(4);
    expect(left).toEqual(['"Lantern" no longer has held by; its keys stay behind.']);
    // Taken again nothing changes.
    expect(takeKeys(CATALOGUE, joined, animated).project).toEqual(joined);
  });

  test('what the rig has locked, wired or put under an expression since is told, and stays as the rig has it', () => {
    const animated = [keyChannels(['here'], ['translate.x', 'translate.y'], 7), setInput('graph', 'bump', 'height', 3)].reduce(
      (p, edit) => edit(p),
      forAnimation(handed()),
    );
    const rig = [
      markChannels(['here'], 'locked', ['translate.x'], true),
      (p: Project) => ({
        ...p,
        objects: p.objects.map((o) => (o.id === 'here' ? { ...o, animated: { 'translate.y': { expression: 'seconds' } } } : o)),
      }),
      addNode('graph', node('how-high', 'number')),
      connect('graph', { node: 'how-high', port: 'value' }, { node: 'bump', port: 'height' }),
    ].reduce((p, edit) => edit(p), handed());
    const { project: joined, left } = takeKeys(CATALOGUE, rig, animated);
    expect(left).toEqual([
      '"Here" has locked move x; its keys stay behind.',
      '"Here" has an expression for move y; its keys stay behind.',
      'Bulge: height is fed by a wire now; what was set there stays behind.',
    ]);
    expect(joined.objects.find((o) => o.id === 'here')).toEqual(rig.objects.find((o) => o.id === 'here'));
    expect(joined.graphs[0].nodes.find((n) => n.id === 'bump')!.inputs.height).toBe(0.4);
  });

  test('objects and cards that are gone are told; a key that was taken away is gone', () => {
    const animated = keyChannels(['here'], ['translate.x'], 7)(forAnimation(handed()));
    const rig = removeNodes('graph', ['bump'])(removeObjects(['here'])(handed()));
    expect(takeKeys(CATALOGUE, rig, animated).left).toEqual([
      '"Here" is no longer in the rig; its keys stay behind.',
      'Bulge is no longer in the rig; what was set there stays behind.',
    ]);
    const keyed = keyChannels(['here'], ['translate.x', 'translate.z'], 7)(handed());
    const back = takeKeys(CATALOGUE, keyed, forAnimation(handed())).project.objects.find((o) => o.id === 'here')!;
    expect(Object.keys(back.animated)).toEqual(['translate.z']);
  });
});

test('keys are listed under the names they are handed out by: of what is picked with the dials that act on it', () => {
  const base = [
    addPage('P', [
      { kind: 'object', object: 'here', channels: ['translate.x'], name: 'Swell' },
      { kind: 'dials', node: 'bump', dials: ['height'], name: 'Swelling', names: { height: 'How high' } },
    ]),
    keyChannels(['here', 'prop'], ['translate.x', 'held'], 3),
    setInput('graph', 'bump', 'height', { keys: trackOf([makeKey(1, 2)]) }),
    setInput('graph', 'bump', 'radius', { keys: trackOf([makeKey(1, 2)]) }),
  ].reduce((p, edit) => edit(p), plain());
  const names = (objects: readonly string[]) => handedRows(CATALOGUE, base, objects).map((r) => `${r.owner} ${r.label}`);
  expect(names([])).toEqual(['Swell move x', 'Swelling How high']);
  expect(names(['fish'])).toEqual(['Swelling How high']);
  expect(names(['here'])).toEqual(['Swell move x']);
});
