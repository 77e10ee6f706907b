import type { Curves } from '../curves/curves.ts';
import type { Mesh } from '../geometry/mesh.ts';
import type { Response } from '../maths/response.ts';
import type { Matrix } from '../maths/matrix.ts';
import type { NearestOn } from '../nearest/shared.ts';
import type { FalloffShape } from './gauge.ts';

/** How a weight goes into the one below it. */
export const MIX_WAYS = ['add', 'subtract', 'multiply', 'larger', 'smaller', 'screen', 'average', 'replace'] as const;
export type MixWay = (typeof MIX_WAYS)[number];

/** How a distance becomes a weight: full up to `inner`, none from `outer` on, through a response between. */
export interface Fade {
  readonly inner: number;
  readonly outer: number;
  /** None: straight. */
  readonly response?: Response;
  readonly invert: boolean;
}

/**
 * A function from places in the world to weights, as plain data with references to geometry (DECISIONS 19, 20): it can
 * be drawn, told in words, and weighed on anything that has points.
 */
export type Falloff =
  | { readonly type: 'flat'; readonly weight: number }
  | {
      readonly type: 'shape';
      readonly shape: FalloffShape;
      /** Of a box: 0 has sharp edges, 1 is a sphere. */
      readonly rounding: number;
      /** World matrix of the locator, and its inverse. */
      readonly world: Readonly<Matrix>;
      readonly inverse: Readonly<Matrix>;
      readonly fade: Fade;
    }
  | {
      readonly type: 'surface';
      readonly mesh: Mesh;
      readonly on: NearestOn;
      /** Places inside count as at distance 0; only of closed meshes, on faces. */
      readonly signed: boolean;
      readonly fade: Fade;
    }
  | { readonly type: 'curve'; readonly curves: Curves; readonly useWidth: boolean; readonly fade: Fade }
  /** The value of the nearest point. */
  | {
      readonly type: 'attribute';
      readonly mesh: Mesh;
      readonly values: Readonly<Float32Array | Int32Array>;
      readonly invert: boolean;
    }
  | {
      readonly type: 'noise';
      readonly frequency: number;
      readonly seed: number;
      readonly offset: readonly [number, number, number];
      readonly octaves: number;
      readonly contrast: number;
      readonly invert: boolean;
    }
  | {
      readonly type: 'mix';
      readonly base: Falloff;
      readonly parts: readonly MixPart[];
      readonly floor: number;
    }
  | {
      readonly type: 'reshaped';
      readonly of: Falloff;
      readonly response?: Response;
      readonly invert: boolean;
      readonly low: number;
      readonly high: number;
    };

export interface MixPart {
  readonly falloff: Falloff;
  readonly way: MixWay;
  readonly strength: number;
}

/** A falloff in a few words, for cards and tables. */
export function falloffWords(f: Falloff): string {
  switch (f.type) {
    case 'flat':
      return `${round(f.weight)} everywhere`;
    case 'shape':
      return `${f.shape} ${round(f.fade.inner)}–${round(f.fade.outer)}${f.fade.invert ? ', inverted' : ''}`;
    case 'surface':
      return `within ${round(f.fade.outer)} m of ${f.on}${f.fade.invert ? ', inverted' : ''}`;
    case 'curve':
      return `within ${round(f.fade.outer)} m of a curve${f.fade.invert ? ', inverted' : ''}`;
    case 'attribute':
      return 'an attribute';
    case 'noise':
      return `noise, ${round(f.frequency)} per m`;
    case 'reshaped':
      return `(${falloffWords(f.of)}) reshaped`;
    case 'mix':
      return [falloffWords(f.base), ...f.parts.map((p) => `${p.way} ${round(p.strength)} × (${falloffWords(p.falloff)})`)].join(
        ', ',
      );
  }
}

const round = (v: number) => String(Number(v.toPrecision(3)));

/** The falloffs that a falloff is made of, itself among them, outermost first. */
export function partsOf(f: Falloff): Falloff[] {
  if (f.type === 'mix') return [f, ...partsOf(f.base), ...f.parts.flatMap((p) => partsOf(p.falloff))];
  return f.type === 'reshaped' ? [f, ...partsOf(f.of)] : [f];
}
