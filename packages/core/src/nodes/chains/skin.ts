import { packWeights, weightName, WEIGHT_PREFIX } from '../../chains/skin-weights.ts';
import { drawIn } from '../../chains/bone-centres.ts';
import { skinDual, skinLinear, skinPose } from '../../chains/skin.ts';
import { findAttribute, withPositions } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue } from '../../graph/node/values.ts';
import { REST_POSITION } from '../attributes.ts';
import { numberWithin } from '../within.ts';
import { choiceSetting, numberPort, MESH_IN, MESH_OUT, WEIGHT_IN } from '../ports.ts';
import { CHAIN_IN, needChain } from './joints.ts';

export const skinNode: NodeDefinition = {
  id: 'skin',
  version: 1,
  title: 'Skin',
  group: 'Chains',
  summary: 'Moves a bound mesh with its joints: linearly, by dual quaternions, or between the two.',
  keywords: ['skinning', 'deform', 'joints', 'dual quaternion', 'linear'],
  inputs: () => [
    { ...MESH_IN, help: 'The mesh with weights of the joints, where it fits their rest.' },
    { ...CHAIN_IN, help: 'The joints, where they rest and where they are.' },
    {
      id: 'thick',
      label: 'keep thickness',
      kind: 'weight',
      default: 1,
      range: { min: 0, max: 1 },
      help: '0 is linear, which thins where a limb bends or twists; 1 is by dual quaternions, which bulges a little on the outside of a bend; between, both are mixed. One value, one per point, or a falloff.',
    },
    numberPort(
      'bulge',
      'bulge',
      undefined,
      1,
      [0, 1],
      'How far dual quaternions let the skin stand out beside a bend: 1 as they give it, 0 about the bones.',
    ),
    WEIGHT_IN,
  ],
  outputs: () => [MESH_OUT],
  settings: [
    choiceSetting(
      'from',
      'Begins',
      [
        ['now', 'Where the mesh is'],
        ['rest', 'Where it rests'],
      ],
      'Where the mesh is: with what was done to it before. Where it rests: at its restPosition.',
    ),
  ],
  sentence: (_, c) => {
    const thick = c.typed('thick');
    if (c.connected('thick') || typeof thick !== 'number') return 'thickness by the wire';
    return thick === 0 ? 'linear' : thick === 1 ? 'by dual quaternions' : `${Math.round(thick * 100)} % by dual quaternions`;
  },
  passes: { mesh: 'mesh' },
  skins: { mesh: 'mesh', chain: 'chain' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    const chain = needChain(context);
    const packed = packWeights(mesh, chain);
    const count = mesh.topology.pointCount;
    if (packed.without > 0)
      context.report({
        code: 'no-weights',
        points: packed.without,
        prefix: WEIGHT_PREFIX,
        severity: packed.without === count ? 'error' : 'warning',
      });
    if (packed.off > 0) context.report({ code: 'weights-off', points: packed.off, most: packed.offBy, severity: 'warning' });
    if (packed.unknown.length > 0) context.report({ code: 'joints-unknown', names: packed.unknown, severity: 'warning' });
    for (const [i, name] of chain.names.entries())
      if (chain.names.indexOf(name) < i && findAttribute(mesh, weightName(name), 'point'))
        context.report({ code: 'joint-names', name, count: chain.names.filter((n) => n === name).length, severity: 'error' });
    const pose = skinPose(chain);
    for (const j of pose.flat) context.report({ code: 'joint-flat', joint: chain.names[j], severity: 'warning' });
    const rest = findAttribute(mesh, REST_POSITION, 'point');
    const source = context.settings.from === 'rest' && rest ? (rest.data as Float32Array) : mesh.positions;
    const thick = context.view('thick', 'number', count);
    const single = thick.step === 0 ? thick.data[0] : undefined;
    let out = context.room(source.length);
    if (single === 0) out = skinLinear(out, source, packed, pose.matrices, context.checkpoint);
    else out = skinDual(out, source, packed, pose, context.checkpoint);
    const bulge = numberWithin(context, 'bulge', 0, 1);
    if (single !== 0 && bulge < 1) drawIn(out, chain, packed, source, pose, 1 - bulge);
    if (single !== 0 && single !== 1) {
      const plain = skinLinear(context.scratch(source.length), source, packed, pose.matrices, context.checkpoint);
      for (let p = 0, o = 0; p < count; p++) {
        const t = single ?? thick.data[p];
        for (let k = 0; k < 3; k++, o++) out[o] = plain[o] + (out[o] - plain[o]) * t;
      }
    }
    const weight = context.view('weight', 'number', count);
    if (weight.step !== 0 || weight.data[0] !== 1)
      for (let p = 0, o = 0; p < count; p++) {
        const w = weight.data[p * weight.step];
        for (let k = 0; k < 3; k++, o++) out[o] = source[o] + (out[o] - source[o]) * w;
      }
    return { mesh: meshValue(withPositions(mesh, out)) };
  },
};
