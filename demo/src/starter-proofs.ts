import type { Proof } from '@umberfish/core';

/** The id of a way: its name, plain. */
export const idOf = (name: string): string => `way-${name.replaceAll(' ', '-')}`;

export type ShortProof = Partial<Proof> & Pick<Proof, 'kind'>;

/** What keeps a deformer honest: nothing lost, and nothing moved at the dial that means nothing. */
export const honest = (dial: string, nothing: number, cost: number): ShortProof[] => [
  { kind: 'finite' },
  { kind: 'same-order' },
  { kind: 'keeps-rest', dials: { [idOf(dial)]: nothing }, within: 1e-6 },
  { kind: 'keeps-rest', dials: { [idOf('weight')]: 0 }, within: 1e-6 },
  { kind: 'cost', most: cost },
];
/** Over a dial's range nothing jumps. */
export const noPop = (dial: string, from: number, to: number): ShortProof => ({ kind: 'no-pop', dial: idOf(dial), from, to });
/** Nor over the frames, while the place or the drivers go round. */
export const overFrames: ShortProof = { kind: 'no-pop', dial: null, from: 1, to: 25 };

/** What every constraint keeps: nothing moves when it is made, nothing is bent, nothing jumps. */
const carrying: readonly ShortProof[] = [
  { kind: 'finite' },
  { kind: 'keeps-rest', within: 1e-6 },
  { kind: 'stretch', least: 1 - 1e-5, most: 1 + 1e-5 },
  overFrames,
];

/** What all that poses joints keeps: the skin is whole, stays as it is where nothing of it counts, and never jumps. */
const posing = (dial: string, nothing: number): ShortProof[] => [
  { kind: 'finite' },
  { kind: 'same-order' },
  { kind: 'stays-closed' },
  { kind: 'keeps-rest', dials: { [idOf(dial)]: nothing }, within: 1e-5 },
  overFrames,
];

/** What each module promises. */
export const PROOFS: Readonly<Record<string, readonly ShortProof[]>> = {
  swell: [...honest('height', 0, 120), noPop('height', -0.5, 0.5), noPop('radius', 0.2, 2), overFrames, { kind: 'stays-closed' }],
  dent: [...honest('depth', 0, 120), noPop('depth', 0, 0.5), overFrames, { kind: 'stays-closed' }],
  twist: [...honest('angle', 0, 60), noPop('angle', -180, 180), { kind: 'stretch', least: 0.5, most: 3 }],
  bend: [...honest('angle', 0, 60), noPop('angle', -90, 90)],
  taper: [
    { kind: 'finite' },
    { kind: 'same-order' },
    { kind: 'keeps-rest', dials: { [idOf('end')]: 1 }, within: 1e-6 },
    noPop('end', 0.1, 2),
    { kind: 'cost', most: 60 },
  ],
  squash: [...honest('stretch', 1, 60), noPop('stretch', 0.5, 2), { kind: 'volume', within: 1e-4 }, { kind: 'stays-closed' }],
  ripples: [...honest('height', 0, 120), noPop('height', -0.2, 0.2), overFrames],
  tide: [...honest('amount', 0, 400), overFrames],
  shingles: [{ kind: 'finite' }, overFrames, noPop('drift', 0, 1), { kind: 'cost', most: 1500 }],
  calm: [{ kind: 'finite' }, { kind: 'same-order' }, overFrames, { kind: 'stays-closed' }, { kind: 'cost', most: 200 }],
  rope: [{ kind: 'finite' }, { kind: 'stays-closed' }, noPop('radius', 0.02, 0.2), noPop('turns', 0, 1)],
  lay: [
    { kind: 'finite' },
    { kind: 'same-order' },
    { kind: 'keeps-rest', dials: { [idOf('weight')]: 0 }, within: 1e-6 },
    { kind: 'stretch', least: 0.1, most: 3 },
    noPop('start', -0.2, 0.2),
  ],
  wave: [...honest('height', 0, 300), noPop('height', -0.2, 0.2), overFrames, { kind: 'stays-closed' }],
  stick: [
    { kind: 'finite' },
    { kind: 'same-order' },
    { kind: 'keeps-rest', dials: { [idOf('weight')]: 0 }, within: 1e-6 },
    overFrames,
  ],
  grown: [{ kind: 'finite' }, { kind: 'stays-closed' }, noPop('outer', 0.4, 2), overFrames, { kind: 'cost', most: 600 }],
  lean: [...honest('amount', 0, 160), noPop('amount', -1, 1), { kind: 'stays-closed' }],
  late: carrying,
  two: [...carrying, { kind: 'keeps-rest', dials: { [idOf('hand over')]: 1 }, within: 1e-6 }, noPop('hand over', 0, 1)],
  four: [...carrying, { kind: 'keeps-rest', dials: { [idOf('hand over')]: 2.5 }, within: 1e-6 }],
  between: [...carrying, noPop('share', 0, 1)],
  aim: [...carrying, noPop('roll', -180, 180)],
  upright: carrying,
  limb: [...posing('amount', 0), { kind: 'keeps-rest', dials: { [idOf('soft reach')]: 0 }, within: 1e-5 }, noPop('amount', 0, 1)],
  foot: [...posing('amount', 0), noPop('clearance', 0, 0.3), noPop('amount', 0, 1)],
  spine: [...posing('amount', 0), noPop('start', -0.2, 0.2), noPop('amount', 0, 1)],
  neck: [...posing('amount', 0), noPop('amount', 0, 1)],
  tail: [...posing('amount', 0), noPop('amount', 0, 1)],
};
