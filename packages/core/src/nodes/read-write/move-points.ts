import type { MeshWrite, NodeDefinition } from '../../graph/node/definition.ts';
import { MESH_IN, MESH_OUT, WEIGHT_IN, yes } from '../ports.ts';

const axis = (id: string, letter: string) =>
  ({
    id,
    label: letter,
    type: 'toggle',
    default: true,
    help: `Whether points move along ${letter}.`,
  }) as const;

/** The kernel's result becomes the positions. */
const MOVED: MeshWrite = { output: 0, name: 'position', type: 'vector', role: 'position' };

export const movePoints: NodeDefinition = {
  id: 'move-points',
  version: 1,
  title: 'Move Points',
  group: 'Read and write',
  summary: 'Moves all points by an offset, or puts each at a place.',
  keywords: ['shift', 'displace', 'place', 'offset'],
  inputs: (s) => [
    MESH_IN,
    s.how === 'set'
      ? {
          id: 'offset',
          label: 'positions',
          kind: 'vector',
          unit: 'm',
          help: 'The new position of each point, in world space.',
        }
      : {
          id: 'offset',
          label: 'offset',
          kind: 'vector',
          unit: 'm',
          default: [0, 0, 0],
          range: { min: -2, max: 2 },
          help: 'What is added to each position: one for all, or one per point.',
        },
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    {
      id: 'how',
      label: 'How',
      type: 'choice',
      options: [
        { value: 'add', label: 'Move by' },
        { value: 'set', label: 'Put at' },
      ],
      default: 'add',
      help: 'Move each point from where it is, or put it somewhere else.',
    },
    axis('x', 'x'),
    axis('y', 'y'),
    axis('z', 'z'),
  ],
  sentence: (s) => {
    const axes = ['x', 'y', 'z'].filter((a) => yes(s, a)).join('');
    return `${s.how === 'set' ? 'put at places' : 'moved by an offset'}${axes === 'xyz' ? '' : axes ? `, ${axes} only` : ', no axis'}`;
  },
  passes: { mesh: 'mesh' },
  elements: {
    plan: () => ({
      inputs: [
        { port: 'mesh', lane: 'vector' },
        { port: 'offset', lane: 'vector' },
        { port: 'weight', lane: 'number' },
      ],
      outputs: [{ lane: 'vector', role: 'position' }],
      mesh: { port: 'mesh', from: 'mesh', on: 'point', writes: [MOVED] },
    }),
    /** `out = p + w · mask · (offset − set · p)`, per point. */
    program(b, [p, offset, [weight]], s) {
      const moved = p.map((at, axis) => {
        if (!yes(s, 'xyz'[axis])) return at;
        const by = s.how === 'set' ? b.operate('subtract', [offset[axis], at]) : offset[axis];
        return b.operate('add', [at, b.operate('multiply', [weight, by])]);
      });
      return [moved];
    },
  },
};
