import { RESPONSE_PRESETS, type ModuleFile } from '@umberfish/core';
import { node } from './records.ts';
import { axis, MESH, metres, number, responseOf, SHAPED, starter, through, WEIGHT, type ShortWay } from './starter-parts.ts';

/** The modules that shape a mesh as a whole, or make one along a curve. */
export function shapingStarters(): ModuleFile[] {
  const bounded = [
    number('from', 0, [0, 1], 'Fraction of the height where it begins.'),
    number('to', 1, [0, 1], 'Fraction where it ends; beyond, it is carried along.'),
  ];
  const twistIns = [
    MESH,
    number('angle', 90, [-720, 720], 'How far the end is turned.', '°'),
    ...bounded,
    WEIGHT,
    axis('twist', 'The direction that is twisted about.'),
  ];
  const bendIns = [
    MESH,
    number('angle', 60, [-360, 360], 'How far the end is bent.', '°'),
    ...bounded,
    WEIGHT,
    axis('bend', 'The direction that is bent.'),
  ];
  const taperIns = [
    MESH,
    number('start', 1, [0, 3], 'Thickness where it begins.', '×'),
    number('end', 0.5, [0, 3], 'Thickness where it ends.', '×'),
    WEIGHT,
    axis('taper', 'The direction along which it gets thinner.'),
    responseOf('taper', 'From one end to the other.'),
  ];
  const squashIns = [MESH, number('stretch', 1.3, [0.2, 3], 'Height against what it was; its volume stays.', '×'), WEIGHT];
  const noiseIns = [
    MESH,
    metres('amount', 0.05, [-0.5, 0.5], 'How far points go at most.'),
    number('frequency', 1.5, [0, 10], 'How fine it is.', '/m'),
    number('speed', 0.5, [0, 4], 'How fast it changes.', '/s'),
    WEIGHT,
  ];
  const ropeIns = [
    {
      name: 'path',
      kind: 'setting',
      control: 'object',
      help: 'The curve it is swept along.',
      sets: [['path', 'object']],
    } as ShortWay,
    metres('radius', 0.04, [0.005, 0.5], 'Of the rope.'),
    { name: 'sides', kind: 'integer', default: 6, range: [3, 32], help: 'Faces round each strand.' } as ShortWay,
    { name: 'strands', kind: 'integer', default: 3, range: [1, 8], help: 'Twisted about each other.' } as ShortWay,
    number('turns', 8, [-40, 40], 'How often they go round each other from end to end.'),
  ];
  const layIns = [
    MESH,
    {
      name: 'path',
      kind: 'setting',
      control: 'object',
      help: 'The curve it is laid along; remember its rest to apply only the change.',
      sets: [['path', 'object']],
    } as ShortWay,
    number('start', 0, [-1, 1], 'Where on the curve it begins.'),
    number('roll', 0, [-360, 360], 'Turned about the curve.', '°'),
    WEIGHT,
    axis('lay', 'The direction of the mesh that follows the curve.'),
  ];
  const stickIns = [
    MESH,
    { name: 'driver', kind: 'mesh', help: 'The mesh that carries it, as it is now.' } as ShortWay,
    { name: 'driver at rest', kind: 'mesh', help: 'The same mesh before it was shaped.' } as ShortWay,
    { name: 'faces', kind: 'integer', default: 4, range: [1, 16], help: 'How many nearest faces carry each point.' } as ShortWay,
    WEIGHT,
  ];
  return [
    starter(
      'twist',
      'Twist',
      'Wrings a mesh about an axis, between two heights.',
      ['wring', 'spiral'],
      twistIns,
      [node('twist', 'twist', [0, 0], { settings: { axis: 'y' } })],
      [...through('twist', twistIns), ['twist.mesh', 'out.shaped']],
    ),
    starter(
      'bend',
      'Bend',
      'Bends a mesh along an axis, between two heights.',
      ['curl', 'arc'],
      bendIns,
      [node('bend', 'bend', [0, 0], { settings: { axis: 'y' } })],
      [...through('bend', bendIns), ['bend.mesh', 'out.shaped']],
    ),
    starter(
      'taper',
      'Taper',
      'Makes one end thinner or thicker than the other.',
      ['thin', 'cone'],
      taperIns,
      [node('taper', 'taper', [0, 0], { settings: { axis: 'y', response: RESPONSE_PRESETS.Straight } })],
      [...through('taper', taperIns), ['taper.mesh', 'out.shaped']],
    ),
    starter(
      'squash',
      'Squash And Stretch',
      'Makes a mesh taller or flatter from its base, and keeps its volume.',
      ['volume', 'bounce'],
      squashIns,
      [
        node('thinner', 'arithmetic', [0, 120], { title: 'Thinner', settings: { operation: 'power' }, inputs: { b: -0.5 } }),
        node('size', 'build-vector', [240, 120]),
        node('stretch', 'transform', [480, 0], { settings: { pivot: 'base' } }),
      ],
      [
        ['in.stretch', 'thinner.a'],
        ['thinner.result', 'size.x'],
        ['in.stretch', 'size.y'],
        ['thinner.result', 'size.z'],
        ['in.mesh', 'stretch.mesh'],
        ['size.vector', 'stretch.scale'],
        ['in.weight', 'stretch.weight'],
        ['stretch.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'tide',
      'Tidal Noise',
      'Lets a mesh breathe by noise that drifts in time; bumps stay where the points were at rest.',
      ['noise', 'water', 'breathe'],
      noiseIns,
      [
        node('clock', 'number', [0, 160], { title: 'Seconds', inputs: { value: { expression: 'seconds' } } }),
        node('drift', 'arithmetic', [240, 160], { title: 'Drift', settings: { operation: 'multiply' } }),
        node('bumps', 'swell-by-noise', [480, 0]),
      ],
      [
        ['in.mesh', 'bumps.mesh'],
        ['in.amount', 'bumps.amount'],
        ['in.frequency', 'bumps.frequency'],
        ['clock.number', 'drift.a'],
        ['in.speed', 'drift.b'],
        ['drift.result', 'bumps.time'],
        ['in.weight', 'bumps.weight'],
        ['bumps.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'rope',
      'Rope',
      'Sweeps a rope of strands along a curve.',
      ['cable', 'tube', 'line'],
      ropeIns,
      [node('path', 'scene-curve', [0, 0]), node('rope', 'sweep-profile', [240, 0])],
      [['path.curves', 'rope.curves'], ...through('rope', ropeIns), ['rope.mesh', 'out.shaped']],
      [{ ...SHAPED, name: 'shaped', help: 'The rope.' }],
    ),
    starter(
      'lay',
      'Lay Along',
      'Lays a mesh along a curve, from where the curve was at rest.',
      ['swim', 'spine', 'curve'],
      layIns,
      [node('path', 'scene-curve', [0, 200]), node('lay', 'lay-along-curve', [240, 0])],
      [
        ['in.mesh', 'lay.mesh'],
        ['path.curves', 'lay.curves'],
        ['path.restCurves', 'lay.rest'],
        ['in.start', 'lay.start'],
        ['in.roll', 'lay.rollStart'],
        ['in.roll', 'lay.rollEnd'],
        ['in.weight', 'lay.weight'],
        ['lay.mesh', 'out.shaped'],
      ],
    ),
    starter(
      'stick',
      'Stick To Surface',
      'Lets a mesh be carried by another that is shaped.',
      ['barnacle', 'follow', 'attach'],
      stickIns,
      [node('bind', 'surface-bind', [0, 0])],
      [...through('bind', stickIns, { 'driver at rest': 'rest' }), ['bind.mesh', 'out.shaped']],
    ),
  ];
}
