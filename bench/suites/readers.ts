import { makeObject, makeProject, parseStatements, readModuleFile, readProjectFile, writeProjectFile } from '@umberfish/core';
import { objExtent, readChannelsCsv, readCsv, readGltf, readMaterialColours, readObj } from '@umberfish/formats';
import { compare, sink, type Trial } from '../measure.ts';

const many = (count: number, of: (i: number) => string) => Array.from({ length: count }, (_, i) => of(i)).join('');

/** Every reader, with the texts that would cost it most if it looked at anything twice; each in a size of so many characters or parts. */
const READERS: readonly [
  name: string,
  read: (text: string) => unknown,
  size: number,
  texts: Record<string, (n: number) => string>,
][] = [
  [
    'OBJ',
    (t) => readObj(t).meshes.length,
    400_000,
    {
      spaces: (n) => `v 0 0 0\nf 1${' '.repeat(n)}x`,
      'spaces after a name': (n) => `g a${' '.repeat(n)}b\n`,
      'lines carried on': (n) => `v 0 0 0\n${'\\\n'.repeat(n / 2)}`,
      'one face': (n) => `v 0 0 0\nv 1 0 0\nv 0 1 0\nf ${'1 2 3 '.repeat(n / 12)}`,
      'one number': (n) => `v ${'1'.repeat(n)} 0 0`,
      'a face without points': (n) => `f ${'1/'.repeat(n / 2)}`,
      'names of groups': (n) => many(n / 16, (i) => `g a\nf -1 -2 ${i}\n`),
    },
  ],
  [
    'OBJ, its size alone',
    (t) => objExtent(new TextEncoder().encode(t)),
    400_000,
    { spaces: (n) => `v 0 0 0\nv 1${' '.repeat(n)}x` },
  ],
  [
    'materials',
    (t) => readMaterialColours(t).size,
    400_000,
    {
      spaces: (n) => `newmtl a${' '.repeat(n)}b\nKd 1${' '.repeat(n)}x`,
      'one name': (n) => many(n / 24, () => 'newmtl same\nKd 1 0 0\n'),
    },
  ],
  [
    'CSV',
    (t) => readCsv(t).rows.length,
    400_000,
    {
      quotes: (n) => '"'.repeat(n),
      'quotes in a row': (n) => `a,${'""'.repeat(n / 2)}`,
      commas: (n) => ','.repeat(n),
      'ends of lines': (n) => '\r\n'.repeat(n / 2),
      'a quote without an end': (n) => `a\n"${'b\n'.repeat(n / 2)}`,
    },
  ],
  [
    'channels CSV',
    (t) => readChannelsCsv(t).length,
    100_000,
    {
      'columns of one name': (n) => `frame${',a.x'.repeat(n / 8)}\n1${',0'.repeat(n / 8)}`,
      columns: (n) => `frame${many(n / 8, (i) => `,o${i}.x`)}\n1${',0'.repeat(n / 8)}`,
      'frames of one number': (n) => `frame,a.translate.x\n${'1,0\n'.repeat(n / 4)}`,
      'frames backwards': (n) => `frame,a.translate.x\n${many(n / 8, (i) => `${n - i},0\n`)}`,
    },
  ],
  [
    'glTF',
    async (t) => (await readGltf(new TextEncoder().encode(t))).meshes.length,
    400_000,
    {
      spaces: (n) => ' '.repeat(n),
      'an address': (n) => `{"asset":{"version":"2.0"},"buffers":[{"byteLength":4,"uri":"data:;base64,${'A'.repeat(n)}"}]}`,
      'an address without an end': (n) =>
        `{"asset":{"version":"2.0"},"buffers":[{"byteLength":4,"uri":"data:${';'.repeat(n)}"}]}`,
      'nodes of one name': (n) =>
        `{"asset":{"version":"2.0"},"nodes":[${many(n / 40, (i) => `${i ? ',' : ''}{"name":"same"}`)}]}`,
    },
  ],
  [
    'a project',
    (t) => readProjectFile(t).project.objects.length,
    4000,
    {
      brackets: (n) => '['.repeat(n * 100),
      spaces: (n) => ' '.repeat(n * 100),
      'objects of one id and name': (n) =>
        writeProjectFile(
          { ...makeProject('p', 'P'), objects: Array.from({ length: n }, () => makeObject('same', 'Same', 'locator')) },
          new Map(),
        ),
      'objects one under the other': (n) =>
        writeProjectFile(
          {
            ...makeProject('p', 'P'),
            objects: Array.from({ length: n }, (_, i) => makeObject(`o${i}`, 'Same', 'group', { parent: `o${i + 1}` })),
          },
          new Map(),
        ),
      'nodes of one id': (n) =>
        writeProjectFile(
          {
            ...makeProject('p', 'P'),
            graphs: [
              {
                id: 'g',
                name: 'G',
                nodes: Array.from({ length: n }, () => ({
                  id: 'same',
                  type: 'number',
                  version: 1,
                  title: '',
                  position: [0, 0] as const,
                  settings: {},
                  inputs: {},
                  skip: false,
                  probes: [],
                })),
                wires: Array.from({ length: n }, () => ({
                  id: 'w',
                  from: { node: 'same', port: 'x' },
                  to: { node: 'same', port: 'y' },
                  pins: [],
                })),
                sections: [],
                preview: null,
              },
            ],
          },
          new Map(),
        ),
    },
  ],
  [
    'a module',
    (t) => readModuleFile(t),
    400_000,
    { spaces: (n) => `{"umberfish-module":${' '.repeat(n)}`, brackets: (n) => '{"a":'.repeat(n / 5) },
  ],
  [
    'a formula',
    (t) => parseStatements(t).problems.length,
    100_000,
    {
      lines: (n) => 'a = 1\n'.repeat(n / 6),
      'empty lines': (n) => '\n'.repeat(n),
      'lines that are wrong': (n) => '= (\n'.repeat(n / 4),
    },
  ],
];

/** The worst texts for each reader: four times as long may take four times as long, not sixteen. (Expressions have a limit.) */
export function readersSuite(): Trial[] {
  return READERS.flatMap(([name, read, size, texts]) =>
    Object.entries(texts).map(([what, text]) => {
      const work = (n: number) => {
        const given = text(n);
        return async () => {
          try {
            await read(given);
          } catch (error) {
            // What cannot be read is refused in a sentence; how long that takes is what counts.
            sink.value += (error as Error).message.length;
          }
        };
      };
      return compare(`reading ${name}: ${what}, 4× as long`, work(size * 4), work(size), 'lower', 8, 8);
    }),
  );
}
