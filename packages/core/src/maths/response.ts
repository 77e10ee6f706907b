/** What lies between a point and the next: a Bézier curve, a straight line, or a step that holds the value. */
export type ResponseShape = 'curve' | 'straight' | 'step';

/** A point of a response. Handles are offsets from the point, in the units of the curve (0..1 each way). */
export interface ResponsePoint {
  at: number;
  value: number;
  /** What the way from the point before arrives at, where that is not the value. */
  arrives?: number | undefined;
  /** Handle towards the point before: dx ≤ 0, dy. */
  in: readonly [number, number];
  /** Handle towards the next point: dx ≥ 0, dy. */
  out: readonly [number, number];
  shape: ResponseShape;
}

/** An editable curve from 0..1 to 0..1 (values may overshoot). Points may be in any order. */
export interface Response {
  points: readonly ResponsePoint[];
  /** Give `1 − value`. */
  invert: boolean;
}

/** A response ready to be evaluated many times; made by `compileResponse`. */
export interface CompiledResponse {
  count: number;
  /** Per segment, 8 numbers: x0, 1/(x1 − x0), and the cubic coefficients of x (c, b, a — x starts at 0) … */
  starts: Float64Array;
  /** … x coefficients: x(t) = ((ax t + bx) t + cx) t in 0..1 of the segment. */
  x: Float64Array;
  /** y(t) = ((ay t + by) t + cy) t + dy. */
  y: Float64Array;
  /** 0 curve, 1 straight or step (t is x itself). */
  direct: Uint8Array;
  /** First guesses of t for 16 equal parts of each segment, 17 a segment. */
  guesses: Float64Array;
  firstAt: number;
  lastAt: number;
  /** Before the first point, at it, and from the last one on. */
  beforeValue: number;
  firstValue: number;
  lastValue: number;
}

const PARTS = 16;

/** Handles cut back so that the curve stays a function: `at` never runs backwards (DECISIONS 25). */
export function clampHandles(a: ResponsePoint, b: ResponsePoint): [readonly [number, number], readonly [number, number]] {
  const width = b.at - a.at;
  const cut = (handle: readonly [number, number], sign: 1 | -1): readonly [number, number] => {
    const dx = handle[0] * sign;
    if (dx <= 0) return [0, handle[1]];
    const f = dx > width ? width / dx : 1;
    return [handle[0] * f, handle[1] * f];
  };
  return [cut(a.out, 1), cut(b.in, -1)];
}

/**
 * Prepares a response. Points are sorted; of points at the same place, the last one wins to its right.
 * One point gives a constant. No point gives the straight line from (0, 0) to (1, 1).
 */
export function compileResponse(response: Response): CompiledResponse {
  const points = [...response.points].sort((a, b) => a.at - b.at);
  if (points.length === 0) points.push(straightPoint(0, 0), straightPoint(1, 1));
  const count = Math.max(0, points.length - 1);
  const compiled: CompiledResponse = {
    count,
    starts: new Float64Array(points.length),
    x: new Float64Array(count * 4),
    y: new Float64Array(count * 4),
    direct: new Uint8Array(count),
    guesses: new Float64Array(count * (PARTS + 1)),
    firstAt: points[0].at,
    lastAt: points[count].at,
    beforeValue: flip(points[0].arrives ?? points[0].value, response.invert),
    firstValue: flip(points[0].value, response.invert),
    lastValue: flip(points[count].value, response.invert),
  };
  points.forEach((p, i) => (compiled.starts[i] = p.at));
  for (let s = 0; s < count; s++) compileSegment(compiled, s, points[s], points[s + 1], response.invert);
  return compiled;
}

const straightPoint = (at: number, value: number): ResponsePoint => ({
  at,
  value,
  in: [-0.1, 0],
  out: [0.1, 0],
  shape: 'straight',
});

const flip = (value: number, invert: boolean) => (invert ? 1 - value : value);

function compileSegment(c: CompiledResponse, s: number, a: ResponsePoint, b: ResponsePoint, invert: boolean) {
  const width = b.at - a.at;
  const o = s * 4;
  const y0 = flip(a.value, invert);
  const y3 = flip(b.arrives ?? b.value, invert);
  c.x[o + 3] = width > 0 ? 1 / width : 0;
  if (a.shape !== 'curve' || !(width > 0)) {
    c.direct[s] = 1;
    c.y[o + 2] = a.shape === 'step' ? 0 : y3 - y0;
    c.y[o + 3] = y0;
    return;
  }
  const [out, into] = clampHandles(a, b);
  const sign = invert ? -1 : 1;
  const x1 = out[0] / width;
  const x2 = 1 + into[0] / width;
  const y1 = y0 + out[1] * sign;
  const y2 = y3 + into[1] * sign;
  c.x[o] = 3 * x1 - 3 * x2 + 1;
  c.x[o + 1] = 3 * x2 - 6 * x1;
  c.x[o + 2] = 3 * x1;
  c.y[o] = y3 - 3 * y2 + 3 * y1 - y0;
  c.y[o + 1] = 3 * y2 - 6 * y1 + 3 * y0;
  c.y[o + 2] = 3 * y1 - 3 * y0;
  c.y[o + 3] = y0;
  for (let part = 0; part <= PARTS; part++) {
    c.guesses[s * (PARTS + 1) + part] = solveByHalving(c.x, o, part / PARTS);
  }
}

function solveByHalving(x: Float64Array, o: number, target: number): number {
  let low = 0;
  let high = 1;
  for (let i = 0; i < 60; i++) {
    const t = (low + high) / 2;
    if (((x[o] * t + x[o + 1]) * t + x[o + 2]) * t < target) low = t;
    else high = t;
  }
  return (low + high) / 2;
}

/**
 * The response at `at`; outside its first and last point it keeps their values. NaN gives NaN.
 * A curve is solved for its parameter by Newton steps from a tabled guess, kept inside the tabled bracket.
 */
export function respond(c: CompiledResponse, at: number): number {
  if (at >= c.lastAt) return c.lastValue;
  if (at <= c.firstAt) return at < c.firstAt ? c.beforeValue : c.firstValue;
  if (at !== at) return NaN;
  const starts = c.starts;
  let s = 0;
  if (c.count > 16) s = lastAtOrBefore(starts, at);
  else while (s < c.count - 1 && at >= starts[s + 1]) s++;
  const o = s * 4;
  const u = (at - starts[s]) * c.x[o + 3];
  let t = u;
  if (c.direct[s] === 0) {
    const ax = c.x[o],
      bx = c.x[o + 1],
      cx = c.x[o + 2];
    const scaled = u * PARTS;
    let part = Math.floor(scaled);
    if (part >= PARTS) part = PARTS - 1;
    const g = s * (PARTS + 1) + part;
    let low = c.guesses[g];
    let high = c.guesses[g + 1];
    t = low + (high - low) * (scaled - part);
    for (let step = 0; step < 40; step++) {
      const miss = ((ax * t + bx) * t + cx) * t - u;
      if (miss < 1e-15 && miss > -1e-15) break;
      if (miss > 0) high = t;
      else low = t;
      const slope = (3 * ax * t + 2 * bx) * t + cx;
      let next = t - miss / slope;
      if (!(next > low && next < high)) next = (low + high) / 2;
      t = next;
    }
  }
  const y = c.y;
  return ((y[o] * t + y[o + 1]) * t + y[o + 2]) * t + y[o + 3];
}

/**
 * The response at many places, each of which is written over by its value; the same as {@link respond} for each. In a loop
 * of its own, where no number is boxed on its way.
 * @param count how many, from the first on
 */
export function respondAll(c: CompiledResponse, places: Float64Array, count = places.length): void {
  if (c.count === 1 && c.direct[0] === 1) return alongLine(c, places, count);
  for (let i = 0; i < count; i++) places[i] = respond(c, places[i]);
}

function alongLine(c: CompiledResponse, places: Float64Array, count: number): void {
  const { firstAt, lastAt, beforeValue, firstValue, lastValue } = c;
  const [start, perUnit, slope, value] = [c.starts[0], c.x[3], c.y[2], c.y[3]];
  for (let i = 0; i < count; i++) {
    const at = places[i];
    if (at >= lastAt) places[i] = lastValue;
    else if (at <= firstAt) places[i] = at < firstAt ? beforeValue : firstValue;
    else places[i] = slope * ((at - start) * perUnit) + value;
  }
}

/** The last of ascending numbers that is not above `at`, by halving. */
function lastAtOrBefore(ascending: Readonly<Float64Array>, at: number): number {
  let low = 0;
  let high = ascending.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (ascending[middle] <= at) low = middle;
    else high = middle;
  }
  return low;
}

const smoothPoint = (at: number, value: number, reach: number): ResponsePoint => ({
  at,
  value,
  in: [-reach, 0],
  out: [reach, 0],
  shape: 'curve',
});

/** Ready-made responses, by the name shown in the editor. */
export const RESPONSE_PRESETS: Record<string, Response> = {
  'Ease down': { points: [smoothPoint(0, 1, 0.4), smoothPoint(1, 0, 0.4)], invert: false },
  'Ease up': { points: [smoothPoint(0, 0, 0.4), smoothPoint(1, 1, 0.4)], invert: false },
  Straight: { points: [straightPoint(0, 0), straightPoint(1, 1)], invert: false },
  'Straight down': { points: [straightPoint(0, 1), straightPoint(1, 0)], invert: false },
  Bump: { points: [smoothPoint(0, 0, 0.2), smoothPoint(0.5, 1, 0.2), smoothPoint(1, 0, 0.2)], invert: false },
  Ring: {
    points: [
      smoothPoint(0, 0, 0.15),
      smoothPoint(0.35, 0, 0.1),
      smoothPoint(0.6, 1, 0.12),
      smoothPoint(0.85, 0, 0.1),
      smoothPoint(1, 0, 0.05),
    ],
    invert: false,
  },
  Steps: {
    points: [0, 0.25, 0.5, 0.75]
      .map((at) => ({ ...straightPoint(at, at), shape: 'step' as const }))
      .concat([{ ...straightPoint(1, 1), shape: 'step' }]),
    invert: false,
  },
};
