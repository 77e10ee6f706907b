import { blendPoses } from '../../chains/blend-poses.ts';
import { jointNamed, jointsFitting, withPosed, type Chain } from '../../chains/chain.ts';
import {
  bendOut,
  groundAlong,
  footTouches,
  groundNearest,
  landFoot,
  landPoint,
  pointsOnContacts,
  touchOf,
  type Ground,
  type Landing,
  type Probe,
  type Touch,
} from '../../chains/contact.ts';
import { skinDual, skinPose } from '../../chains/skin.ts';
import { packWeights, weightsOfPoints } from '../../chains/skin-weights.ts';
import { findAttribute } from '../../geometry/mesh.ts';
import type { InputPort, NodeContext, NodeDefinition, OutputPort, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import {
  chainValue,
  matrixValue,
  valuesLike,
  type Column,
  type NumberValue,
  type Single,
  type Value,
} from '../../graph/node/values.ts';
import { identity, invert, matrixAt, multiply, positionOf } from '../../maths/matrix.ts';
import { RADIANS_PER_DEGREE } from '../../maths/rotation.ts';
import { dot, length, normalize, scale, subtract, type Vec3 } from '../../maths/vector.ts';
import { REST_POSITION } from '../attributes.ts';
import { choice, choiceSetting, numberPort, singleVector, text } from '../ports.ts';
import { share } from './bend-chain.ts';
import { CHAIN_IN, CHAIN_OUT, jointSetting, needChain, needJoint } from './joints.ts';

const WHAT = choiceSetting(
  'what',
  'Sets down',
  [
    ['foot', 'A foot'],
    ['toes', 'Toes'],
    ['points', 'Points'],
  ],
  'A foot: a joint is moved as a whole, until none of its contacts is in the ground. Toes: joints bend until what hangs under them is out. Points: each by itself.',
);
const HOW = choiceSetting(
  'how',
  'Ground is',
  [
    ['along', 'Along a direction'],
    ['nearest', 'The nearest place'],
  ],
  'What lies along a direction, or the nearest place of the mesh.',
);
const LANDING = choiceSetting(
  'landing',
  'Landing',
  [
    ['draw', 'Drawn in within the band'],
    ['push', 'Only pushed out'],
  ],
  'Drawn in: within the band it comes down softly. Only pushed out: it is lifted a little before it touches.',
);
const FOOT = jointSetting('foot', 'Foot', 'The joint that is moved; what hangs under it goes along.');
const CONTACTS = jointSetting(
  'contacts',
  'Contacts',
  'Joints that may touch: names with commas between, * for any letters. Heel, ball and toe, say. Empty, of a foot: it and all below it.',
);
const AXES = choiceSetting(
  'axes',
  'Aligned by',
  [
    ['change', 'The tilt of the ground'],
    ['y z', 'Up y, forward z'],
    ['y x', 'Up y, forward x'],
    ['z x', 'Up z, forward x'],
    ['z y', 'Up z, forward y'],
    ['x y', 'Up x, forward y'],
    ['x z', 'Up x, forward z'],
  ],
  'The tilt: its turn is changed as the ground is tilted against level. Axes: its own up is laid along the ground’s normal, its forward kept.',
  (s) => isFoot(s),
);

const isFoot = (s: Settings) => s.what !== 'toes' && s.what !== 'points';
const isPoints = (s: Settings) => s.what === 'points';
const isAlong = (s: Settings) => s.how !== 'nearest';

export const groundContact: NodeDefinition = {
  id: 'ground-contact',
  version: 1,
  title: 'Ground Contact',
  group: 'Chains',
  summary: 'Keeps feet, toes or points out of the ground, and tells how deep they were.',
  keywords: ['foot', 'feet', 'floor', 'touch', 'collide', 'slope', 'terrain', 'plant'],
  inputs: (s): InputPort[] => [
    isPoints(s) ? { id: 'positions', label: 'positions', kind: 'vector', unit: 'm', help: 'One place, or a column.' } : CHAIN_IN,
    { id: 'ground', label: 'ground', kind: 'mesh', help: 'The ground: a mesh, a group as one mesh, a grid. It may move.' },
    ...(isAlong(s)
      ? [
          {
            id: 'direction',
            label: 'down',
            kind: 'vector' as const,
            uniform: true,
            default: [0, -1, 0] as [number, number, number],
            range: { min: -1, max: 1 },
            help: 'The direction that the ground is looked for along.',
          },
          numberPort('search', 'search', 'm', 1, [0.01, 10], 'How deep in the ground something may be and still be brought out.'),
        ]
      : []),
    numberPort(
      'clearance',
      'clearance',
      'm',
      0,
      [0, 1],
      'How far above the ground joints come to be; added to what the skin tells.',
      isPoints(s) ? { uniform: false } : {},
    ),
    ...(isPoints(s)
      ? []
      : [
          {
            id: 'skin',
            label: 'skin',
            kind: 'mesh' as const,
            optional: true,
            help: 'The bound mesh at rest: its points on the foot are what must not sink in; of toes, how far it reaches below them.',
          },
        ]),
    numberPort('band', 'landing band', 'm', 0.05, [0, 1], 'The height over which it comes down softly.'),
    ...(isFoot(s)
      ? [
          numberPort('align', 'align', undefined, 1, [0, 1], 'How much of the slope it takes over.'),
          numberPort('most', 'at most', '°', 40, [0, 90], 'No more than this.'),
        ]
      : []),
    ...(isPoints(s) ? [] : [numberPort('blend', 'amount', undefined, 1, [0, 1], 'How much of it; 0 only tells how deep.')]),
  ],
  outputs: (s): OutputPort[] => [
    ...(isPoints(s)
      ? [{ id: 'positions', label: 'positions', kind: 'vector' as const, unit: 'm', help: 'The places, out of the ground.' }]
      : [CHAIN_OUT]),
    ...(isFoot(s)
      ? [
          {
            id: 'matrix',
            label: 'foot',
            kind: 'matrix' as const,
            help: 'Where the foot comes to be: a target for the limb above.',
          },
        ]
      : []),
    ...(isPoints(s)
      ? []
      : [{ id: 'places', label: 'contacts', kind: 'vector' as const, unit: 'm', help: 'Where each contact comes to be.' }]),
    {
      id: 'before',
      label: 'depth before',
      kind: 'number',
      unit: 'm',
      help: 'How deep in the ground each was; negative above it.',
    },
    { id: 'after', label: 'depth after', kind: 'number', unit: 'm', help: 'How deep it is now.' },
    { id: 'touching', label: 'touching', kind: 'toggle', help: 'Whether it touches, to a tenth of a millimetre.' },
    { id: 'slope', label: 'slope', kind: 'number', unit: '°', help: 'How steep the ground is there.' },
  ],
  settings: [WHAT, { ...FOOT, shown: isFoot }, { ...CONTACTS, shown: (s) => !isPoints(s) }, HOW, LANDING, AXES],
  sentence: (s) =>
    isPoints(s)
      ? `points, ${choice(HOW, s)}`
      : `${isFoot(s) ? text(s, 'foot') || 'no foot yet' : 'toes'} by ${text(s, 'contacts') || 'all of it'}`,
  passes: { chain: 'chain' },
  contacts: (s) => ({
    places: isPoints(s) ? 'positions' : 'places',
    ...{ before: 'before', after: 'after', touching: 'touching', ground: 'ground' },
  }),
  evaluate(context) {
    const { settings } = context;
    const mesh = context.mesh('ground');
    if (mesh.topology.faceCount === 0) throw new NodeError({ code: 'target-empty', what: '"ground"' });
    const along = isAlong(settings);
    const direction = along ? singleVector(context, 'direction') : ([0, -1, 0] as Vec3);
    if (!direction.every(Number.isFinite)) throw new NodeError({ code: 'input-not-finite', port: 'down' });
    if (!(length(direction) > 0)) throw new NodeError({ code: 'no-direction', port: 'down' });
    const up = scale(normalize(direction), -1);
    const ground = along ? groundAlong(mesh, direction, Math.max(1e-6, context.number('search'))) : groundNearest(mesh);
    const band = Math.max(0, context.number('band') || 0);
    const landing = text(settings, 'landing') as Landing;
    if (isPoints(settings)) return points(context, ground, up, band, landing);
    const chain = needChain(context);
    const found = isFoot(settings)
      ? setFoot(context, chain, ground, up, band, landing)
      : setToes(context, chain, ground, up, band, landing);
    if (found.missing > 0) context.report({ code: 'ground-missing', points: found.missing, severity: 'warning' });
    const inside = found.touches.map((t) => t.after).filter((d) => d > 1e-3);
    if (inside.length > 0 && share(context, 'blend') === 1)
      context.report({ code: 'still-inside', contacts: inside.length, metres: Math.max(...inside), severity: 'warning' });
    const ofContacts = {
      owner: `${chain.id} ${found.contacts.join()}`,
      names: found.contacts.map((j) => chain.names[j]),
    };
    const column = (kind: 'number' | 'toggle', of: (t: Touch) => number): Column => ({
      form: 'column',
      kind,
      count: found.touches.length,
      data: kind === 'toggle' ? Int32Array.from(found.touches, of) : Float32Array.from(found.touches, (t) => finite(of(t))),
      on: 'joint',
      ...ofContacts,
      role: 'plain',
    });
    return {
      chain: chainValue(withPosed(chain, found.worlds)),
      ...(found.foot === undefined ? {} : { matrix: matrixValue(Float64Array.from(matrixAt(found.worlds, found.foot))) }),
      places: {
        ...{ form: 'column', kind: 'vector', count: found.contacts.length, on: 'joint', role: 'position' },
        ...ofContacts,
        data: Float32Array.from(found.contacts.flatMap((j) => positionOf(matrixAt(found.worlds, j)))),
      } satisfies Column,
      before: column('number', (t) => t.before),
      after: column('number', (t) => t.after),
      touching: column('toggle', (t) => (t.touching ? 1 : 0)),
      slope: column('number', (t) => t.slope),
    };
  },
};

/** Where there is no ground, it is as far away as can be told. */
const finite = (v: number): number => (v === -Infinity ? -1e9 : v);

interface SetDown {
  readonly worlds: Float64Array;
  readonly touches: Touch[];
  readonly contacts: readonly number[];
  readonly missing: number;
  readonly foot?: number;
}

function setFoot(context: NodeContext, chain: Chain, ground: Ground, up: Vec3, band: number, landing: Landing): SetDown {
  const { settings } = context;
  const foot = needJoint(context, chain, FOOT);
  const contacts = contactsOf(context, chain, foot);
  const outside = contacts.find((j) => j < foot || j >= chain.ends[foot]);
  if (outside !== undefined) throw new NodeError({ code: 'joint-order', above: chain.names[foot], below: chain.names[outside] });
  const worlds = chain.posed.slice();
  const axes = text(settings, 'axes').split(' ');
  const own = (axis: string): Vec3 => {
    const k = Math.max(0, 'xyz'.indexOf(axis)) * 4;
    const m = matrixAt(worlds, foot);
    return normalize([m[k], m[k + 1], m[k + 2]]);
  };
  const probes = probesOf(context, chain, worlds, contacts, foot);
  const { missing } = landFoot(chain, worlds, ground, {
    foot,
    contacts,
    probes,
    up,
    band,
    landing,
    align: share(context, 'align'),
    mostInRadians: Math.max(0, context.number('most') || 0) * RADIANS_PER_DEGREE,
    axes: axes.length === 2 ? { up: own(axes[0]), forward: own(axes[1]) } : undefined,
  });
  const out = mixed(chain, worlds, share(context, 'blend'));
  // How deep it is told to be is how deep it comes out (DECISIONS 49).
  const moved = identity();
  if (invert(moved, matrixAt(chain.posed, foot))) multiply(moved, matrixAt(out, foot), moved);
  return { worlds: out, touches: footTouches(out, ground, contacts, probes, moved, up), contacts, missing, foot };
}

function setToes(context: NodeContext, chain: Chain, ground: Ground, up: Vec3, band: number, landing: Landing): SetDown {
  const contacts = contactsOf(context, chain, undefined);
  const worlds = chain.posed.slice();
  const clearances = clearancesOf(context, chain, contacts, up);
  let missing = 0;
  const under = (pose: Readonly<Float64Array>, joint: number) => ground(positionOf(matrixAt(pose, joint)));
  contacts.forEach((tip, i) => {
    const joint = chain.parents[tip];
    if (!under(worlds, tip)) missing++;
    if (joint >= 0) bendOut(chain, worlds, joint, tip, ground, clearances[i], up, band, landing);
  });
  const out = mixed(chain, worlds, share(context, 'blend'));
  const touches = contacts.map((tip, i) => touchOf(under(chain.posed, tip), under(out, tip), clearances[i], up));
  return { worlds: out, touches, contacts, missing };
}

/** Between where joints were and where they came to be. */
function mixed(chain: Chain, worlds: Float64Array, amount: number): Float64Array {
  if (amount === 1) return worlds;
  return blendPoses(chain.parents, [chain.posed, worlds], (k) => (k === 0 ? 1 - amount : amount));
}

function contactsOf(context: NodeContext, chain: Chain, foot: number | undefined): number[] {
  const pattern = text(context.settings, 'contacts').trim();
  if (pattern === '') {
    if (foot !== undefined) return Array.from({ length: chain.ends[foot] - foot }, (_, i) => foot + i);
    throw new NodeError({ code: 'joint-unset', setting: 'Contacts' });
  }
  const found = jointsFitting(chain, pattern);
  if (found.length === 0) throw new NodeError({ code: 'joint-missing', name: pattern, known: chain.names });
  const lost = pattern
    .split(',')
    .map((n) => n.trim())
    .find((n) => n && !n.includes('*') && jointNamed(chain, n) < 0);
  if (lost) context.report({ code: 'joint-missing', name: lost, known: chain.names, severity: 'warning' });
  return found;
}

/** What may touch: each contact itself, or all points of the skin that move with the foot, where they are now. */
function probesOf(
  context: NodeContext,
  chain: Chain,
  worlds: Readonly<Float64Array>,
  contacts: readonly number[],
  foot: number,
): Probe[] {
  const clearance = context.number('clearance') || 0;
  const end = chain.ends[foot];
  const found = skinOn(context, chain, contacts, (j) => j >= foot && j < end);
  if (found.length === 0)
    return contacts.map((j, contact): Probe => ({ contact, place: positionOf(matrixAt(worlds, j)), clearance }));
  return found.map((f): Probe => ({ ...f, clearance }));
}

/** Points of the skin that belong to joints, each with its contact, where they are in the pose that came in. */
function skinOn(
  context: NodeContext,
  chain: Chain,
  contacts: readonly number[],
  belongs: (joint: number) => boolean,
): { contact: number; place: Vec3 }[] {
  const skin = context.input('skin');
  if (skin?.form !== 'geometry') return [];
  const packed = packWeights(skin.mesh, chain);
  const rest = findAttribute(skin.mesh, REST_POSITION, 'point');
  const from = (rest?.data as Float32Array | undefined) ?? skin.mesh.positions;
  const found = pointsOnContacts(packed, contacts, belongs);
  const points = found.map((f) => f.point);
  const places = Float32Array.from(points.flatMap((p) => [from[p * 3], from[p * 3 + 1], from[p * 3 + 2]]));
  skinDual(places, places, weightsOfPoints(packed, points), skinPose(chain), context.checkpoint);
  return found.map(({ contact }, i) => ({ contact, place: [places[i * 3], places[i * 3 + 1], places[i * 3 + 2]] }));
}

/** The typed clearance, and how far the skin reaches below each joint. */
function clearancesOf(context: NodeContext, chain: Chain, contacts: readonly number[], up: Vec3): number[] {
  const typed = context.number('clearance') || 0;
  return contacts.map((j) => {
    const at = positionOf(matrixAt(chain.posed, j));
    const below = skinOn(context, chain, [j], (k) => k === j).map(({ place }) => dot(subtract(at, place), up));
    return Math.max(0, ...below) + typed;
  });
}

function points(context: NodeContext, ground: Ground, up: Vec3, band: number, landing: Landing): Record<string, Value> {
  const from = context.input('positions') as Single | Column;
  const count = from.form === 'column' ? from.count : 1;
  const places = context.lane('positions', 'vector', count);
  const clearance = context.view('clearance', 'number', count);
  const out = Float32Array.from(places);
  const [before, after, slope] = [new Float32Array(count), new Float32Array(count), new Float32Array(count)];
  const touching = new Int32Array(count);
  let missing = 0;
  for (let i = 0; i < count; i++) {
    if ((i & 255) === 0) context.checkpoint();
    const p: Vec3 = [places[i * 3], places[i * 3 + 1], places[i * 3 + 2]];
    const c = clearance.data[i * clearance.step];
    const moved = landPoint(p, ground, c, band, landing);
    if (moved) out.set(moved, i * 3);
    else missing++;
    const touch = touchOf(ground(p), moved && ground(moved), c, up);
    before[i] = finite(touch.before);
    after[i] = finite(touch.after);
    touching[i] = touch.touching ? 1 : 0;
    slope[i] = touch.slope;
  }
  if (missing > 0) context.report({ code: 'ground-missing', points: missing, severity: 'warning' });
  const like = (kind: 'number' | 'toggle', data: Float32Array | Int32Array): NumberValue => valuesLike(from, kind, data);
  return {
    positions: valuesLike(from, 'vector', out, 'position'),
    before: like('number', before),
    after: like('number', after),
    touching: like('toggle', touching),
    slope: like('number', slope),
  };
}
