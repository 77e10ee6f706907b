import { framesOf, type FrameOptions, type Frames, type Rail } from '../../curves/index.ts';
import { tracksOf, type Curves, type Track } from '../../curves/index.ts';
import type { NodeContext, Setting, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { compileResponse, type CompiledResponse, type Response } from '../../maths/response.ts';
import type { Vec3 } from '../../maths/vector.ts';
import { choiceSetting, text } from '../ports.ts';

/** How frames run along a curve. */
export const FRAME_SETTINGS: readonly Setting[] = [
  choiceSetting(
    'frames',
    'Frames',
    [
      ['least', 'Turn as little as they can'],
      ['up', 'Always towards up'],
    ],
    'As little: no twist of their own. Always up: level; where the curve itself runs up or down they turn on evenly.',
  ),
  choiceSetting(
    'up',
    'Up',
    [
      ['y', 'World y'],
      ['x', 'World x'],
      ['z', 'World z'],
    ],
    'Where the first frame’s normal points.',
  ),
];

const UPS: Record<string, Vec3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

const frameOptions = (s: Settings, extra: Partial<FrameOptions> = {}): FrameOptions => ({
  by: s.frames === 'up' ? 'up' : 'least',
  up: UPS[text(s, 'up')] ?? UPS.y,
  ...extra,
});

/** The first spline of curves that has a length. @throws NodeError when none has */
export function needTrack(curves: Curves, what: string): Track {
  const track = tracksOf(curves).find((t) => t.length > 0);
  if (!track) throw new NodeError({ code: 'curve-short', what });
  return track;
}

/** Frames of a track as a node's settings ask for; where a half turn could go either way round, that is said. */
export function framesFor(context: NodeContext, track: Track, extra: Partial<FrameOptions> = {}): Frames {
  const frames = framesOf(track, frameOptions(context.settings, extra));
  if (frames.isArbitrary) context.report({ code: 'frames-arbitrary', severity: 'note' });
  return frames;
}

/** Frames for things on a curve, which belong to one piece of it or the other at a corner. */
export const pieceFrames = (context: NodeContext, track: Track): Frames => framesFor(context, track, { corners: 'piece' });

/** All splines that have a length, with frames. @throws NodeError when none has */
export function railsOf(context: NodeContext, curves: Curves, what: string, extra: Partial<FrameOptions> = {}): Rail[] {
  const tracks = tracksOf(curves).filter((t) => t.length > 0);
  if (tracks.length === 0) throw new NodeError({ code: 'curve-short', what });
  return tracks.map((track) => ({ track, frames: framesFor(context, track, extra) }));
}

/** Size of the section from one end to the other; plain is 1 all along. */
export const widthSetting = (help: string): Setting => ({
  id: 'width',
  label: 'Width',
  type: 'response',
  default: {
    points: [0, 1].map((at) => ({ at, value: 1, in: [-0.3, 0], out: [0.3, 0], shape: 'curve' as const })),
    invert: false,
  },
  help,
});

/** The width ready to be read; undefined when it is 1 all along. */
export function readWidth(settings: Settings): CompiledResponse | undefined {
  const width = settings.width as Response;
  const isPlain = !width.invert && width.points.every((p) => p.value === 1 && p.in[1] === 0 && p.out[1] === 0);
  return isPlain ? undefined : compileResponse(width);
}
