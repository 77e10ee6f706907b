import { NEW_CONTROL, type Control, type HandOut, type ObjectRecord, type PoseRecord, type Project } from '@umberfish/core';

const MOVE = ['translate.x', 'translate.y', 'translate.z'];
const TURN = ['rotate.x', 'rotate.y', 'rotate.z'];
const SIZE = ['scale.x', 'scale.y', 'scale.z'];

const object = (id: string, channels: readonly string[], name = '') => ({ kind: 'object' as const, object: id, channels, name });
const dials = (node: string, names: Readonly<Record<string, string>>, name: string) => ({
  kind: 'dials' as const,
  node,
  dials: Object.keys(names),
  name,
  names,
});

/** What animators of Lantern Quay get. */
const HAND_OUT: HandOut = {
  pages: [
    {
      id: 'fish-page',
      name: 'Fish',
      parts: [
        dials('offset', { c: 'Height' }, 'Swelling'),
        dials('ratio', { b: 'Radius' }, 'Swelling'),
        object('swell-here', MOVE),
        object('pufferfish', [...MOVE, ...TURN]),
        dials('loose', { 'way-inner': 'Loose within', 'way-outer': 'Held beyond', 'way-spin': 'Spin' }, 'Moulting'),
        object('loose-here', [...MOVE, ...SIZE], 'Moults here'),
      ],
    },
    {
      id: 'crane-page',
      name: 'Crane',
      parts: [
        object('hand-lantern', [...TURN, 'hand-over'], 'Lantern'),
        object('boat', [...MOVE, ...TURN]),
        object('fender-rope', ['crank']),
      ],
    },
    { id: 'air-page', name: 'Gull', parts: [object('gull', ['way', ...TURN]), object('duck', [...MOVE, ...TURN])] },
  ],
};

const CONTROLS: Readonly<Record<string, Partial<Control>>> = {
  'swell-here': { shape: 'ring', size: 0.6 },
  'loose-here': { shape: 'ball', size: 0.9, colour: [0.05, 0.12, 0.13] },
};

/** Height and radius of the swelling, and where it is: metres. */
const swelling = (
  id: string,
  name: string,
  height: number,
  radius: number,
  at: readonly [number, number, number],
): PoseRecord => ({
  id,
  name,
  picture: null,
  values: {
    objects: { 'swell-here': Object.fromEntries(MOVE.map((c, i) => [c, at[i]])) },
    dials: { offset: { c: height }, ratio: { b: radius } },
  },
});

const withControl = (o: ObjectRecord): ObjectRecord =>
  o.type === 'locator' && o.id in CONTROLS ? { ...o, control: { ...NEW_CONTROL, ...CONTROLS[o.id] } } : o;

/** The project with shapes to take hold of, a hand-out and three poses of the pufferfish. */
export const handedOutQuay = (project: Project): Project => ({
  ...project,
  objects: project.objects.map(withControl),
  handOut: HAND_OUT,
  poses: [
    swelling('calm', 'Calm', 0.2, 0.62, [0.02, 1.72, 0.82]),
    swelling('startled', 'Startled', 0.34, 0.6, [-0.1, 1.62, 0.5]),
    swelling('asleep', 'Asleep', 0.04, 0.5, [0.02, 1.6, 0.7]),
  ],
});
