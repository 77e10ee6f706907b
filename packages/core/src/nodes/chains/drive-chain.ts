import { jointsFitting } from '../../chains/chain.ts';
import { SHOWN_PORT, type DrivenPart, type FacetRef, type NodeDefinition } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { drivenValue } from '../../graph/node/values.ts';
import { identity, invert, matrixAt, product, type Matrix } from '../../maths/matrix.ts';
import { areFinite } from '../../maths/finite.ts';
import { jointsOf } from '../../scene/joints.ts';
import type { Driven } from '../../scene/world.ts';
import { choice, choiceSetting, text } from '../ports.ts';
import { CHAIN_IN, needChain } from './joints.ts';

const OWN = choiceSetting(
  'own',
  'Own channels',
  [
    ['in', 'Are in the pose'],
    ['on-top', 'Come on top'],
  ],
  'In the pose: joints stand where the pose has them. On top: their own channels turn them from there; for poses that begin at rest.',
);

export const driveChain: NodeDefinition = {
  id: 'drive-chain',
  version: 1,
  title: 'Drive Chain',
  group: 'Chains',
  summary: 'Puts a pose under the joints of a chain of the scene, so that their channels stay free.',
  keywords: ['joints', 'carrier', 'output', 'solve', 'pose'],
  inputs: () => [{ ...CHAIN_IN, help: 'The pose; joints are found by their names.' }],
  outputs: () => [],
  settings: [
    { id: 'object', label: 'Chain', type: 'object', takes: 'chain', help: 'The chain whose joints are driven.' },
    {
      id: 'joints',
      label: 'Joints',
      type: 'text',
      default: '',
      jointOf: 'chain',
      help: 'Only these: names with commas between, * for any letters. Empty: all.',
    },
    OWN,
  ],
  sentence: (s, c) =>
    `${text(s, 'joints') || 'all joints'} of ${c.objectName(s.object) ?? 'no chain yet'}, channels ${choice(OWN, s)}`,
  reads(s): FacetRef[] {
    const object = text(s, 'object');
    return object ? [{ object, facet: 'joints' }] : [];
  },
  drives(s, project): DrivenPart[] {
    const joints = jointsOf(project.objects, text(s, 'object'));
    const names = joints.map((j) => j.name);
    return jointsFitting({ names }, text(s, 'joints')).map((i) => ({ object: joints[i].id }));
  },
  evaluate(context) {
    const { settings } = context;
    const object = context.object('object');
    const chain = needChain(context);
    if (!areFinite(chain.posed as Float64Array)) throw new NodeError({ code: 'not-finite', port: 'chain', index: 0, count: 1 });
    const incoming = object.chain('channels');
    if (incoming.count === 0) throw new NodeError({ code: 'chain-empty', object: object.name, removed: object.isRemoved });
    const onTop = settings.own === 'on-top';
    const wanted = new Set(jointsFitting(incoming, text(settings, 'joints')));
    if (wanted.size === 0) throw new NodeError({ code: 'joint-missing', name: text(settings, 'joints'), known: incoming.names });
    const found = incoming.names.map((name) => chain.names.indexOf(name));
    const missing = incoming.names.filter((_, i) => wanted.has(i) && found[i] < 0);
    if (missing.length === wanted.size) throw new NodeError({ code: 'joint-missing', name: missing[0], known: chain.names });
    if (missing.length > 0) context.report({ code: 'joint-missing', name: missing[0], known: chain.names, severity: 'warning' });
    const driven = new Map<string, Driven>();
    // Where each joint ends up: what is not driven follows what is.
    const actual: Matrix[] = [];
    const inverse = identity();
    object.joints.forEach((joint, i) => {
      const p = incoming.parents[i];
      const above = p < 0 ? object.world : actual[p];
      const aboveIn = p < 0 ? object.world : matrixAt(incoming.posed, p);
      const along = (): Matrix =>
        invert(inverse, aboveIn)
          ? product(above, inverse, matrixAt(incoming.posed, i))
          : Float64Array.from(matrixAt(incoming.posed, i));
      if (!wanted.has(i) || found[i] < 0) {
        actual[i] = along();
        return;
      }
      const target = matrixAt(chain.posed, found[i]);
      // On top, the joints above have turned on too: told from where the pose has them.
      const from = onTop && p >= 0 && found[p] >= 0 ? matrixAt(chain.posed, found[p]) : above;
      const channels = onTop ? joint.restChannels : joint.channels;
      const [intoParent, offChannels] = [identity(), identity()];
      if (!invert(intoParent, from) || !invert(offChannels, channels)) {
        context.report({ code: 'joint-flat', joint: joint.name, severity: 'warning' });
        actual[i] = along();
        return;
      }
      const carrier = product(intoParent, target, offChannels);
      driven.set(joint.id, { carrier });
      actual[i] = onTop ? product(above, carrier, joint.channels) : target;
    });
    return { [SHOWN_PORT]: drivenValue(driven) };
  },
};
