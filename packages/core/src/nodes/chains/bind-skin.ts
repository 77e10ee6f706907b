import { bindSkin } from '../../chains/bind-skin.ts';
import { MOST_DETAIL } from '../../chains/distances-inside.ts';
import { jointsFitting } from '../../chains/chain.ts';
import { weightName, withWeights } from '../../chains/skin-weights.ts';
import { findAttribute } from '../../geometry/mesh.ts';
import type { NodeDefinition } from '../../graph/node/definition.ts';
import { meshValue, pointColumn } from '../../graph/node/values.ts';
import { needElements, REST_POSITION } from '../attributes.ts';
import { MESH_IN, MESH_OUT, numberPort, text, typedCount } from '../ports.ts';
import { wholeWithin } from '../within.ts';
import { CHAIN_IN, needChain } from './joints.ts';

export const bindSkinNode: NodeDefinition = {
  id: 'bind-skin',
  version: 1,
  title: 'Bind Skin',
  group: 'Chains',
  summary: 'Weighs every point by how far it is from each bone, through the inside of the body.',
  keywords: ['weights', 'skinning', 'attach', 'rig', 'geodesic'],
  inputs: () => [
    { ...MESH_IN, help: 'The mesh where it fits the joints’ rest; its restPosition counts where it has one.' },
    { ...CHAIN_IN, help: 'The joints; only where they rest counts.' },
    numberPort('most', 'most joints', undefined, 4, [1, 8], 'The most joints that move a point.', { kind: 'integer' }),
    numberPort('sharpness', 'sharpness', undefined, 4, [1, 12], 'How fast weights fall with distance; more is stiffer.'),
    numberPort('smooth', 'smooth', 'rounds', 2, [0, 50], 'Rounds of averaging along edges.', { kind: 'integer' }),
    numberPort('least', 'least', undefined, 0.01, [0, 0.2], 'Smaller weights are dropped.'),
    numberPort(
      'detail',
      'detail',
      'cells',
      48,
      [8, MOST_DETAIL],
      'Cells along the longest side of the body; finer tells close limbs apart.',
      { kind: 'integer' },
    ),
  ],
  outputs: () => [
    { ...MESH_OUT, help: 'The mesh with a number attribute for each joint, "weight_" and its name (a space as _, a _ as __).' },
    { id: 'far', label: 'far', kind: 'toggle', help: 'Points that no joint reaches through the inside.' },
  ],
  settings: [
    {
      id: 'locked',
      label: 'Locked joints',
      type: 'text',
      default: '',
      help: 'Joints whose weights the mesh has already and keeps: names with commas between, * for any letters.',
    },
  ],
  sentence: (s, c) => `${typedCount(c, 'most', 'joint')} a point at most${s.locked ? `, ${text(s, 'locked')} locked` : ''}`,
  passes: { mesh: 'mesh' },
  evaluate(context) {
    const mesh = context.mesh('mesh');
    needElements(mesh, 'face');
    const chain = needChain(context);
    const locked = new Map<number, Readonly<Float32Array>>();
    if (text(context.settings, 'locked').trim())
      for (const j of jointsFitting(chain, text(context.settings, 'locked'))) {
        const has = findAttribute(mesh, weightName(chain.names[j]), 'point');
        if (has?.type === 'number') locked.set(j, has.data as Float32Array);
      }
    const rest = findAttribute(mesh, REST_POSITION, 'point');
    const { columns, far } = bindSkin(
      mesh,
      (rest?.data as Float32Array | undefined) ?? mesh.positions,
      chain,
      {
        detail: wholeWithin(context, 'detail', 8, MOST_DETAIL),
        most: wholeWithin(context, 'most', 1, 64),
        sharpness: Math.max(0.5, context.number('sharpness') || 4),
        smoothing: wholeWithin(context, 'smooth', 0, 1000),
        least: Math.min(0.5, Math.max(0, context.number('least') || 0)),
        locked,
      },
      context.checkpoint,
    );
    if (far.length > 0) context.report({ code: 'far-from-joints', points: far.length, severity: 'warning' });
    const isFar = new Int32Array(mesh.topology.pointCount);
    for (const p of far) isFar[p] = 1;
    return { mesh: meshValue(withWeights(mesh, chain, columns)), far: pointColumn(mesh, 'toggle', isFar) };
  },
};
