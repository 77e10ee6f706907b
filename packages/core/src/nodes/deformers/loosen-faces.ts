import { needElements } from '../attributes.ts';
import { faceCentres, loosenFaces as loosen } from '../../deform/loosen.ts';
import { weigh } from '../../falloffs/weigh.ts';
import { elementsId } from '../../geometry/topology.ts';
import { moveValues } from '../../geometry/spread.ts';
import type { InputPort, NodeDefinition } from '../../graph/node/definition.ts';
import { noWeight, type Weighed } from '../../graph/node/no-weight.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { isMeshPlace, meshValue, type Column, type Single } from '../../graph/node/values.ts';
import { MESH_IN, MESH_OUT, numberPort, WEIGHT_IN, typedWords } from '../ports.ts';

const WEIGHT: InputPort = {
  ...WEIGHT_IN,
  help: 'How loose each face is: one value, a column, or a falloff, weighed at the middle of faces.',
};

export const loosenFaces: NodeDefinition = {
  id: 'loosen-faces',
  version: 1,
  title: 'Loosen Faces',
  group: 'Deformers',
  summary: 'Takes faces off a mesh under a weight: they drift out along their normals and spin by noise.',
  keywords: ['detach', 'shatter', 'flake', 'scatter', 'peel', 'explode'],
  inputs: () => [
    MESH_IN,
    numberPort('drift', 'drift', 'm', 0.3, [-2, 2], 'How far faces go along their normals at full weight.'),
    numberPort('spin', 'spin', '°', 180, [0, 720], 'How far they turn at most, each about an axis of its own.'),
    numberPort('shrink', 'shrink', undefined, 0.2, [0, 1], 'How much smaller they get at full weight.'),
    numberPort('frequency', 'frequency', '/m', 3, [0, 20], 'Of the noise: faces near each other move alike when it is low.'),
    numberPort('time', 'time', undefined, 0, [0, 10], 'Changes the noise; drive it by seconds to keep them turning.'),
    numberPort('seed', 'seed', undefined, 1, [0, 100], 'Another number gives another noise.', {
      kind: 'integer',
    }),
    WEIGHT,
  ],
  outputs: () => [{ ...MESH_OUT, help: 'The mesh with a point of its own for every corner.' }],
  settings: [],
  sentence: (_, c) => `${typedWords(c, 'drift')} m out, ${typedWords(c, 'spin')}°`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const { topology } = mesh;
    needElements(mesh, 'face');
    const given = context.input('weight');
    let weight: Float32Array;
    let weighed: Weighed | undefined;
    if (given?.form === 'falloff') {
      weighed = { falloff: given.falloff, points: faceCentres(mesh) };
      weight = weigh(weighed.falloff, weighed.points, new Float32Array(topology.faceCount), context.checkpoint);
    } else {
      const value = given as Single | Column;
      if (value.form === 'single') weight = new Float32Array(topology.faceCount).fill(value.data[0]);
      else if (!isMeshPlace(value.on) || value.owner !== elementsId(topology, value.on))
        throw new NodeError({ code: 'column-fit', port: 'weight', count: value.count, points: topology.faceCount, on: 'face' });
      else weight = Float32Array.from(value.on === 'face' ? value.data : moveValues(topology, value.data, 1, value.on, 'face'));
    }
    const none = given?.form === 'single' ? undefined : noWeight(WEIGHT, weight, weighed, 'face');
    if (none) context.report(none);
    const options = {
      drift: context.number('drift'),
      spin: (context.number('spin') * Math.PI) / 180,
      shrink: context.number('shrink'),
      frequency: context.number('frequency'),
      time: context.number('time'),
      seed: context.integer('seed'),
    };
    return { mesh: meshValue(loosen(mesh, weight, options, context.checkpoint)) };
  },
};
