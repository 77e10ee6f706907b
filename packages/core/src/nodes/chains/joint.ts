import { jointPlaces, jointsFitting, localsOf, moveWith, withPosed, type Chain } from '../../chains/chain.ts';
import { blendPoses } from '../../chains/blend-poses.ts';
import type { InputPort, NodeDefinition, OutputPort, Settings } from '../../graph/node/definition.ts';
import { NodeError } from '../../graph/node/problems.ts';
import { chainValue, jointColumn, matricesValue, matrixValue, vectorValue, type Value } from '../../graph/node/values.ts';
import { identity, invert, matrixAt, positionOf, product, translation, type Matrix } from '../../maths/matrix.ts';
import { matrixOutput, matrixPort, singleMatrix } from '../matrices/lanes.ts';
import { choice, choiceSetting, numberPort, text, toggleSetting, yes } from '../ports.ts';
import { scale } from '../../maths/vector.ts';
import { CHAIN_IN, CHAIN_OUT, jointSetting, needChain, needJoint } from './joints.ts';
import { share } from './bend-chain.ts';

const JOINT = jointSetting('joint', 'Joint', 'Its name; to read several: with commas between, * for any letters.');
const DOES = choiceSetting(
  'does',
  'Does',
  [
    ['read', 'Reads it'],
    ['set', 'Puts it there'],
    ['offset', 'Moves it on'],
  ],
  'Reads where it is, puts it where a matrix says, or moves it by one.',
);
const SPACE = choiceSetting(
  'space',
  'Space',
  [
    ['world', 'World'],
    ['parent', 'Its parent’s'],
    ['own', 'Its own'],
  ],
  'World: in the scene. Its parent’s: as the joint above sees it. Its own: from where it rests under that, in its own axes.',
);
const reads = (s: Settings) => s.does === 'read' || s.does === undefined;
const isMany = (s: Settings) => /[*,]/.test(text(s, 'joint'));

export const jointNode: NodeDefinition = {
  id: 'joint',
  version: 1,
  title: 'Joint',
  group: 'Chains',
  summary: 'Reads, sets or moves a joint of a chain by its name.',
  keywords: ['bone', 'matrix', 'wrist', 'pick', 'offset'],
  inputs: (s): InputPort[] => [
    CHAIN_IN,
    ...(reads(s)
      ? []
      : [
          matrixPort('matrix', 'matrix', 'Where it goes, or what it is moved by, in the space of the setting.'),
          numberPort('amount', 'amount', undefined, 1, [0, 1], 'How much of it.'),
        ]),
  ],
  outputs: (): OutputPort[] => [
    { ...CHAIN_OUT, help: 'The joints, with this one where it was put; as they came where it is only read.' },
    matrixOutput('matrix', 'matrix', 'Where it is, in the space of the setting; one for each where several are read.'),
    matrixOutput('rest', 'rest', 'Where it rests, likewise.'),
    { id: 'position', label: 'position', kind: 'vector', unit: 'm', help: 'Where it is in the world.' },
  ],
  settings: [
    JOINT,
    DOES,
    SPACE,
    {
      ...toggleSetting('leave', 'Leave what hangs under it', false, 'What hangs under it stays where it is.'),
      shown: (s) => !reads(s),
    },
  ],
  sentence: (s) => `${choice(DOES, s)}: ${text(s, 'joint') || 'no joint yet'}, ${choice(SPACE, s)} space`,
  passes: { chain: 'chain' },
  evaluate(context): Record<string, Value> {
    const { settings } = context;
    const chain = needChain(context);
    if (!reads(settings)) {
      const joint = needJoint(context, chain, JOINT);
      const moved = movedChain(chain, joint, singleMatrix(context, 'matrix'), settings, share(context, 'amount'));
      if (!moved) throw new NodeError({ code: 'joint-flat', joint: chain.names[joint] });
      return { chain: chainValue(moved), ...readJoint(moved, joint, settings) };
    }
    if (!isMany(settings)) return { chain: chainValue(chain), ...readJoint(chain, needJoint(context, chain, JOINT), settings) };
    const joints = jointsFitting(chain, text(settings, 'joint'));
    if (joints.length === 0) throw new NodeError({ code: 'joint-missing', name: text(settings, 'joint'), known: chain.names });
    const pack = (of: (j: number) => Matrix) => {
      const out = new Float64Array(joints.length * 16);
      joints.forEach((j, i) => out.set(of(j), i * 16));
      return matricesValue(out, `${chain.id} ${joints.join()}`);
    };
    const places = jointPlaces(chain);
    const position = jointColumn(
      chain,
      'vector',
      Float32Array.from(joints.flatMap((j) => [...places.subarray(j * 3, j * 3 + 3)])),
      'position',
    );
    return {
      chain: chainValue(chain),
      matrix: pack((j) => inSpace(chain, chain.posed, j, settings)),
      rest: pack((j) => inSpace(chain, chain.rest, j, settings)),
      // Fewer than all joints are elements of their own.
      position: {
        ...position,
        count: joints.length,
        owner: joints.length === chain.count ? chain.id : `${chain.id} ${joints.join()}`,
      },
    };
  },
};

function readJoint(chain: Chain, joint: number, s: Settings): Record<string, Value> {
  return {
    matrix: matrixValue(inSpace(chain, chain.posed, joint, s)),
    rest: matrixValue(inSpace(chain, chain.rest, joint, s)),
    position: vectorValue(positionOf(matrixAt(chain.posed, joint))),
  };
}

/** A joint as the space of the setting has it. One whose space cannot be inverted is told from the world. */
function inSpace(chain: Chain, worlds: Readonly<Float64Array>, joint: number, s: Settings): Matrix {
  if (s.space !== 'parent' && s.space !== 'own') return Float64Array.from(matrixAt(worlds, joint));
  const local = matrixAt(localsOf(chain.parents, worlds), joint);
  if (s.space === 'parent') return Float64Array.from(local);
  const back = identity();
  return invert(back, matrixAt(localsOf(chain.parents, chain.rest), joint)) ? product(back, local) : Float64Array.from(local);
}

/** A joint put or moved by a matrix, and what hangs under it. Undefined where that needs what cannot be inverted. */
function movedChain(chain: Chain, joint: number, m: Readonly<Matrix>, s: Settings, amount: number): Chain | undefined {
  const now = matrixAt(chain.posed, joint);
  const p = chain.parents[joint];
  const above = p < 0 ? identity() : matrixAt(chain.posed, p);
  const target = s.does === 'offset' ? offsetTarget(now, above, m, s) : setTarget(chain, joint, above, m, s);
  const off = identity();
  if (!target || !invert(off, now)) return undefined;
  const posed = chain.posed.slice();
  if (yes(s, 'leave')) posed.set(target, joint * 16);
  else moveWith(chain, posed, joint, product(target, off));
  // What cannot be inverted loses nothing: the joint itself is as asked, to the bit.
  posed.set(target, joint * 16);
  if (amount === 1) return withPosed(chain, posed);
  return withPosed(
    chain,
    blendPoses(chain.parents, [chain.posed, posed], (k) => (k === 0 ? 1 - amount : amount)),
  );
}

function offsetTarget(now: Matrix, above: Matrix, m: Readonly<Matrix>, s: Settings): Matrix | undefined {
  if (s.space === 'own') return product(now, m);
  const at = positionOf(now);
  if (s.space === 'parent') {
    const back = identity();
    return invert(back, above) ? product(above, m, back, now) : undefined;
  }
  // About its own place, along world axes.
  return product(translation(at), m, translation(scale(at, -1)), now);
}

function setTarget(chain: Chain, joint: number, above: Matrix, m: Readonly<Matrix>, s: Settings): Matrix {
  if (s.space === 'parent') return product(above, m);
  if (s.space === 'own') return product(above, matrixAt(localsOf(chain.parents, chain.rest), joint), m);
  return Float64Array.from(m);
}
