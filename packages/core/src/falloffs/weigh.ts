import { allFinite } from '../maths/finite.ts';
import { fractalNoise3, makeNoise } from '../maths/noise.ts';
import { compileResponse, respond, type CompiledResponse } from '../maths/response.ts';
import { memoize } from '../memo.ts';
import { indexOf } from '../nearest/shared.ts';
import type { Falloff, Fade, MixWay } from './falloff.ts';
import { distanceOf, type DistanceFalloff } from './distance.ts';
import { gaugeAt } from './gauge.ts';

/** Points that are weighed at a time; their weights between the parts of a falloff stay in the fastest memory. */
const CHUNK = 1024;

/** Weighs `count` points, from number `first` of packed xyz, into `out` from 0. */
type Weigher = (out: Float64Array, positions: Readonly<Float32Array>, first: number, count: number) => void;

/**
 * Weighs points with a falloff: one weight for each, 0 to 1, unless a part of it says otherwise. Every part makes one
 * pass over a chunk of points, so a mix of ten costs about ten.
 * @param out weights; written. @param positions xyz × points, world space. Places that are not finite get 0.
 */
export function weigh(
  falloff: Falloff,
  positions: Readonly<Float32Array>,
  out: Float32Array,
  checkpoint: () => void = () => {},
): Float32Array {
  const weigher = compileFalloff(falloff);
  const chunk = new Float64Array(CHUNK);
  const count = positions.length / 3;
  for (let first = 0; first < count; first += CHUNK) {
    checkpoint();
    const many = Math.min(CHUNK, count - first);
    weigher(chunk, positions, first, many);
    for (let k = 0; k < many; k++) out[first + k] = chunk[k];
    // What is nowhere has no weight, however a falloff is turned round.
    const from = first * 3;
    if (allFinite(positions, from, from + many * 3)) continue;
    for (let k = 0, o = from; k < many; k++, o += 3)
      if ((positions[o] + positions[o + 1] + positions[o + 2]) * 0 !== 0) out[first + k] = 0;
  }
  return out;
}

/** The weight of one place. */
export function weightAt(falloff: Falloff, x: number, y: number, z: number): number {
  return weigh(falloff, Float32Array.of(x, y, z), new Float32Array(1))[0];
}

const compileFalloff = memoize((f: Falloff): Weigher => {
  switch (f.type) {
    case 'flat':
      return (out, _, __, count) => void out.fill(f.weight, 0, count);
    case 'shape':
      return weighShape(f);
    case 'surface':
    case 'curve':
      return weighDistance(f);
    case 'attribute':
      return weighAttribute(f);
    case 'noise':
      return weighNoise(f);
    case 'mix':
      return weighMix(f);
    case 'reshaped':
      return weighReshaped(f);
  }
});

type Of<T extends Falloff['type']> = Extract<Falloff, { type: T }>;

/** What a fade comes to: both ends of its response are known beforehand, as most points lie beyond one of them. */
interface Fading {
  readonly response: CompiledResponse | undefined;
  readonly inverted: boolean;
  /** Weights at the outer end and beyond, and at the inner one. */
  readonly none: number;
  readonly full: number;
}

function compileFade({ response: given, invert: inverted }: Fade): Fading {
  const response = given && compileResponse(given);
  const [none, full] = [0, 1].map((t) => (response ? respond(response, t) : t)).map((w) => (inverted ? 1 - w : w));
  return { response, inverted, none, full };
}

/** Ways from the outer end to the inner one (0 to 1, or beyond) become weights. In a loop of its own, where none is boxed. */
function fadeAll(ways: Float64Array, count: number, { response, inverted, none, full }: Fading): void {
  for (let k = 0; k < count; k++) {
    const way = ways[k];
    if (!(way > 0 && way < 1)) ways[k] = way >= 1 ? full : none;
    else {
      const w = response ? respond(response, way) : way;
      ways[k] = inverted ? 1 - w : w;
    }
  }
}

/** How a distance becomes a way: `(outer − d) · factor`. Ends in one place make a hard step (DECISIONS 20). */
function wayOf({ inner, outer }: Fade): (distance: number) => number {
  const factor = outer !== inner ? 1 / (outer - inner) : 0;
  return (d) => (factor !== 0 ? (outer - d) * factor : d <= outer ? 1 : 0);
}

function weighShape({ shape, rounding, inverse: m, fade }: Of<'shape'>): Weigher {
  const fading = compileFade(fade);
  const way = wayOf(fade);
  const { inner, outer } = fade;
  const factor = outer !== inner ? 1 / (outer - inner) : 0;
  const isSphere = shape === 'sphere' && factor !== 0;
  return (out, p, first, count) => {
    // Read here: a loop would look up again what was read outside of it.
    const m0 = m[0],
      m1 = m[1],
      m2 = m[2],
      m4 = m[4],
      m5 = m[5],
      m6 = m[6],
      m8 = m[8],
      m9 = m[9],
      m10 = m[10];
    const m12 = m[12],
      m13 = m[13],
      m14 = m[14];
    const far = outer,
      per = factor,
      byLength = isSphere;
    for (let k = 0, o = first * 3; k < count; k++, o += 3) {
      const px = p[o],
        py = p[o + 1],
        pz = p[o + 2];
      const x = m0 * px + m4 * py + m8 * pz + m12;
      const y = m1 * px + m5 * py + m9 * pz + m13;
      const z = m2 * px + m6 * py + m10 * pz + m14;
      out[k] = byLength ? (far - Math.sqrt(x * x + y * y + z * z)) * per : way(gaugeAt(shape, rounding, x, y, z));
    }
    fadeAll(out, count, fading);
  };
}

function weighDistance(f: DistanceFalloff): Weigher {
  const { fade } = f;
  const fading = compileFade(fade);
  const way = wayOf(fade);
  // Beyond the outer end everything is as far.
  const within = Math.max(fade.outer, fade.inner);
  const distance = distanceOf(f);
  return (out, p, first, count) => {
    for (let k = 0, o = first * 3; k < count; k++, o += 3) out[k] = way(distance(p[o], p[o + 1], p[o + 2], within));
    fadeAll(out, count, fading);
  };
}

function weighAttribute({ mesh, values, invert: inverted }: Of<'attribute'>): Weigher {
  const index = indexOf(mesh, 'points');
  return (out, p, first, count) => {
    let last = -1;
    for (let k = 0, o = first * 3; k < count; k++, o += 3) {
      const found = index.nearest(p[o], p[o + 1], p[o + 2], Infinity, last);
      last = found;
      const w = found < 0 ? 0 : values[found];
      out[k] = inverted ? 1 - w : w;
    }
  };
}

function weighNoise({ frequency, seed, offset, octaves, contrast, invert: inverted }: Of<'noise'>): Weigher {
  const field = makeNoise(seed);
  const [ox, oy, oz] = offset;
  return (out, p, first, count) => {
    for (let k = 0, o = first * 3; k < count; k++, o += 3) {
      const noise = fractalNoise3(
        field,
        p[o] * frequency + ox,
        p[o + 1] * frequency + oy,
        p[o + 2] * frequency + oz,
        octaves,
        2,
        0.5,
      );
      const w = 0.5 + 0.5 * contrast * noise;
      const clamped = w > 0 ? (w < 1 ? w : 1) : 0;
      out[k] = inverted ? 1 - clamped : clamped;
    }
  };
}

/**
 * In the order of the list: `w = base + strength · (op(base, wᵢ) − base)`. Average counts each by its strength, the
 * base by 1. At the end the weight is clamped to 0..1 and lifted to the floor.
 */
function weighMix({ base, parts, floor }: Of<'mix'>): Weigher {
  const first = compileFalloff(base);
  const others = parts.map((p) => ({ ...p, run: compileFalloff(p.falloff) }));
  const chunk = new Float64Array(CHUNK);
  return (out, positions, from, count) => {
    first(out, positions, from, count);
    let averaged = 1;
    for (const { run, way, strength } of others) {
      run(chunk, positions, from, count);
      if (way === 'average') {
        averaged += strength;
        const share = averaged > 0 ? strength / averaged : 0;
        for (let k = 0; k < count; k++) out[k] += (chunk[k] - out[k]) * share;
      } else blend(out, chunk, count, way, strength);
    }
    for (let k = 0; k < count; k++) {
      const w = out[k];
      out[k] = w > floor ? (w < 1 ? w : 1) : floor;
    }
  };
}

/** One loop for each way of mixing, so that each stays short. */
function blend(out: Float64Array, chunk: Float64Array, count: number, way: Exclude<MixWay, 'average'>, s: number): void {
  if (way === 'add') for (let k = 0; k < count; k++) out[k] += s * chunk[k];
  else if (way === 'subtract') for (let k = 0; k < count; k++) out[k] -= s * chunk[k];
  else if (way === 'multiply') for (let k = 0; k < count; k++) out[k] += s * (out[k] * chunk[k] - out[k]);
  else if (way === 'larger') for (let k = 0; k < count; k++) out[k] += chunk[k] > out[k] ? s * (chunk[k] - out[k]) : 0;
  else if (way === 'smaller') for (let k = 0; k < count; k++) out[k] += chunk[k] < out[k] ? s * (chunk[k] - out[k]) : 0;
  else if (way === 'screen') for (let k = 0; k < count; k++) out[k] += s * (1 - (1 - out[k]) * (1 - chunk[k]) - out[k]);
  else for (let k = 0; k < count; k++) out[k] += s * (chunk[k] - out[k]);
}

function weighReshaped({ of, response, invert: inverted, low, high }: Of<'reshaped'>): Weigher {
  const run = compileFalloff(of);
  const compiled = response ? compileResponse(response) : undefined;
  return (out, positions, from, count) => {
    run(out, positions, from, count);
    for (let k = 0; k < count; k++) {
      let w = compiled ? respond(compiled, out[k]) : out[k];
      if (inverted) w = 1 - w;
      out[k] = low + (high - low) * w;
    }
  };
}
