import type { NodeDefinition } from '../../graph/node/definition.ts';
import { respaceCurve } from './respace-curve.ts';
import { reverseCurve } from './reverse-curve.ts';
import { openCloseCurve } from './open-close-curve.ts';
import { smoothHandlesNode } from './smooth-handles.ts';
import { rollCurve } from './roll-curve.ts';
import { curveFromPoints } from './curve-from-points.ts';
import { edgesToCurves } from './edges-to-curves.ts';
import { curvePoint } from './curve-point.ts';
import { measureAlongCurve } from './measure-along-curve.ts';
import { followCurve } from './follow-curve.ts';
import { layAlongCurve } from './lay-along-curve.ts';
import { profileShape } from './profile-shape.ts';
import { sweepProfile } from './sweep-profile.ts';

export const CURVES: readonly NodeDefinition[] = [
  layAlongCurve,
  sweepProfile,
  profileShape,
  respaceCurve,
  curvePoint,
  measureAlongCurve,
  followCurve,
  reverseCurve,
  openCloseCurve,
  smoothHandlesNode,
  rollCurve,
  curveFromPoints,
  edgesToCurves,
];
