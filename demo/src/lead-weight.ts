import type { GraphRecord, Mesh } from '@umberfish/core';
import { MeshBuilder } from './builder.ts';
import { graph, node, section } from './records.ts';

/** The weight at the end of a sounding line: a block of eight points, 0.4 m high, narrower at the top. */
export function makeLeadWeight(): Mesh {
  const b = new MeshBuilder([{ name: 'Lead', baseColour: [0.23, 0.22, 0.22] }]);
  b.beginGroup('Weight');
  const ring = (y: number, half: number) =>
    [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].map(([x, z]) => b.point([x * half, y, z * half]));
  const low = ring(0, 0.16);
  const high = ring(0.4, 0.09);
  b.face([...low], 'Lead', true);
  b.face([...high].reverse(), 'Lead', true);
  for (let i = 0; i < 4; i++) {
    const j = (i + 1) % 4;
    b.face([low[i], high[i], high[j], low[j]], 'Lead', true);
  }
  return b.done();
}

/** Rest, points moved by hand, a formula's colour, and that colour carried to the weight as it came. */
export function leadWeightGraph(): GraphRecord {
  const names = (name: string, type: 'number' | 'colour') => ({ names: [{ name, type }] });
  return graph(
    'lead',
    'Lead weight',
    [
      node('weight', 'scene-mesh', [0, 0], { settings: { object: 'lead-weight' } }),
      node('weight-rest', 'remember-rest', [196, 0]),
      node('dent', 'hand-offsets', [392, 0], {
        title: 'Dent by hand',
        settings: { offsets: { points: 8, index: [5, 6], moves: [0.06, -0.09, -0.02, 0.1, -0.03, 0.05] } },
      }),
      node('tint', 'formula', [588, 0], {
        title: 'Tint',
        settings: {
          formula:
            '// from the first point to the last\nfar = index / count\ntint = vector(0.9 - 0.7 * far, 0.35, 0.15 + 0.6 * far)',
          outputs: names('tint', 'colour'),
        },
      }),
      node('show-weight', 'show-mesh', [784, 0], {
        settings: { object: 'lead-weight', name: 'lead-weight' },
      }),
      node('carry', 'carry-attribute', [392, 290], {
        title: 'Carry the tint',
        settings: { name: 'tint', as: 'stripes' },
      }),
      node('aside', 'transform', [588, 290], { title: 'Beside it', inputs: { translate: [0.55, 0, 0] } }),
      node('show-plain', 'show-mesh', [784, 290], { settings: { name: 'lead-weight-plain' } }),
    ],
    [
      ['weight.mesh', 'weight-rest.mesh'],
      ['weight-rest.mesh', 'dent.mesh'],
      ['dent.mesh', 'tint.mesh'],
      ['tint.mesh', 'show-weight.mesh'],
      ['weight.mesh', 'carry.mesh', [190, 240]],
      ['tint.mesh', 'carry.source', [764, 176], [366, 200]],
      ['carry.mesh', 'aside.mesh'],
      ['aside.mesh', 'show-plain.mesh'],
    ],
    [
      section(
        'dented',
        'A dent, and what is remembered',
        'Remember Rest comes before the dent, so restPosition keeps where every point was. Pick the dent, click a point in the stage and drag it: position changes in the table, restPosition does not.',
        'sand',
        ['weight', 'weight-rest', 'dent', 'tint', 'show-weight'],
      ),
      section(
        'carried',
        'The tint on another mesh',
        'Carried by point number and called stripes. Choose it under Attribute over the stage.',
        'slate',
        ['carry', 'aside', 'show-plain'],
      ),
    ],
  );
}
