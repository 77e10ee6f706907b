import { wholeWithin } from '../within.ts';
import { strandSections, sweepSections, tracksOf, type Curves, type Section } from '../../curves/index.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { meshValue } from '../../graph/node/values.ts';
import { choiceSetting, CURVES_IN, MESH_OUT, numberPort, text, toggleSetting, yes, typedCount } from '../ports.ts';
import { checkPoints } from '../bring-in/make-grid.ts';
import { FRAME_SETTINGS, railsOf, readWidth, widthSetting } from './frame-settings.ts';

const PLANES: Record<string, readonly [number, number]> = { xz: [0, 2], xy: [0, 1], zy: [2, 1] };

export const sweepProfile: NodeDefinition = {
  id: 'sweep-profile',
  version: 1,
  title: 'Sweep Profile',
  group: 'Curves',
  summary: 'Makes tubes along curves: round, of several strands, or with a drawn cross-section.',
  keywords: ['extrude', 'rope', 'tube', 'pipe', 'loft', 'cable', 'strand'],
  inputs: () => [
    { ...CURVES_IN, help: 'The curves to sweep along; their roll and width are followed.' },
    {
      id: 'profile',
      label: 'profile',
      kind: 'curves',
      optional: true,
      help: 'A cross-section of one or more splines. Left open, it is round.',
    },
    numberPort('radius', 'radius', 'm', 0.05, [0, 1], 'Of a strand, or the factor of a drawn profile.'),
    numberPort('sides', 'sides', undefined, 8, [3, 64], 'Faces round a strand.', { kind: 'integer' }),
    numberPort('strands', 'strands', undefined, 1, [1, 12], 'Strands side by side; with a turn they make a rope.', {
      kind: 'integer',
    }),
    numberPort('turns', 'turns', undefined, 0, [-100, 100], 'How often the section turns over the whole length.'),
  ],
  outputs: () => [MESH_OUT],
  settings: [
    toggleSetting('caps', 'Caps', true, 'Close the ends of open tubes with a face.'),
    choiceSetting(
      'plane',
      'Profile lies in',
      [
        ['xz', 'x and z (the ground)'],
        ['xy', 'x and y'],
        ['zy', 'z and y'],
      ],
      'The plane a drawn profile is drawn in.',
    ),
    widthSetting('Size of the section from the beginning of a curve to its end.'),
    ...FRAME_SETTINGS,
  ],
  sentence: (s, c) =>
    `${c.connected('profile') ? 'a drawn profile' : 'round'}${c.connected('strands') || c.typed('strands') !== 1 ? `, ${typedCount(c, 'strands', 'strand')}` : ''}${yes(s, 'caps') ? ', capped' : ''}`,
  evaluate(context) {
    const { settings } = context;
    const rails = railsOf(context, context.curves('curves'), 'Sweep Profile');
    const profile = context.input('profile');
    const given = context.number('radius');
    const radius = Math.max(0, given);
    const sections =
      profile?.form === 'curves'
        ? drawnSections(profile.curves, PLANES[text(settings, 'plane')] ?? PLANES.xz, radius / 0.05)
        : strandSections(wholeWithin(context, 'strands', 1, 12), radius, wholeWithin(context, 'sides', 3, 256));
    if (!(given > 0))
      context.report({
        code: 'needs-positive',
        port: 'radius',
        value: given,
        unit: 'm',
        so: 'the tube has no thickness',
        severity: 'warning',
      });
    const samples = rails.reduce((n, r) => n + r.track.count, 0);
    checkPoints(samples * sections.reduce((n, s) => n + s.points.length / 2, 0));
    let turns = context.number('turns');
    // A closed tube has to meet itself: only whole turns do.
    if (rails.some((r) => r.track.closed) && !Number.isInteger(turns)) {
      const used = Math.round(turns);
      context.report({
        code: 'value-range',
        port: 'turns',
        value: turns,
        used,
        why: 'a closed curve meets itself only after whole turns, so',
        severity: 'note',
      });
      turns = used;
    }
    return {
      mesh: meshValue(
        sweepSections(rails, sections, {
          rollStart: 0,
          rollEnd: turns * 2 * Math.PI,
          width: readWidth(settings),
          caps: yes(settings, 'caps'),
          checkpoint: context.checkpoint,
        }),
      ),
    };
  },
};

/** Drawn splines as sections, in the two axes of a plane. @throws NodeError when there is nothing to sweep */
function drawnSections(profile: Curves, [x, y]: readonly [number, number], factor: number): Section[] {
  const tracks = tracksOf(profile).filter((t) => t.length > 0);
  if (tracks.length === 0) throw new NodeError({ code: 'curve-short', what: 'The profile' });
  return tracks.map((t) => {
    const count = t.closed ? t.count - 1 : t.count;
    const points = new Float64Array(count * 2);
    for (let i = 0; i < count; i++) {
      points[i * 2] = t.positions[i * 3 + x] * factor;
      points[i * 2 + 1] = t.positions[i * 3 + y] * factor;
    }
    return { points, closed: t.closed };
  });
}
