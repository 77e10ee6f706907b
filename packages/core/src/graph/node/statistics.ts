import { knownBounds } from '../../geometry/derived.ts';
import { edgesOf } from '../../geometry/edges.ts';
import { pointsOf } from './points-of.ts';
import { isNumbers, type Value } from './values.ts';

/** What a probe tells of a value. Numbers per component; vectors also by length. */
export interface Statistics {
  readonly form: Value['form'];
  readonly kind: Value['kind'];
  readonly count: number;
  /** Per component: 1 or 3. Values that are not finite are left out and counted. */
  readonly minimum: readonly number[];
  readonly maximum: readonly number[];
  readonly mean: readonly number[];
  readonly notFinite: number;
  /** Counts in equal bins from `histogramFrom` to `histogramTo`: of the numbers, or the lengths of vectors. */
  readonly histogram: readonly number[];
  readonly histogramFrom: number;
  readonly histogramTo: number;
  /** Faces and edges, for meshes. */
  readonly faces?: number;
  readonly edges?: number;
}

/** Statistics of a value in one pass for ranges and one for the histogram. @param bins number of equal bins. */
export function statisticsOf(value: Value, bins = 32): Statistics {
  if (value.form === 'geometry') {
    const { mesh } = value;
    const { low, high } = knownBounds(mesh.positions);
    const points = describe(mesh.positions, 3, mesh.topology.pointCount, bins);
    return {
      ...points,
      form: 'geometry',
      kind: 'mesh',
      minimum: low,
      maximum: high,
      faces: mesh.topology.faceCount,
      edges: mesh.topology.cornerCount < 2e6 ? edgesOf(mesh.topology).count : undefined,
    };
  }
  if (!isNumbers(value)) {
    const points = pointsOf(value) ?? new Float32Array(0);
    return { ...describe(points, 3, points.length / 3, bins), form: value.form, kind: value.kind };
  }
  const width = value.kind === 'vector' ? 3 : value.kind === 'matrix' ? 16 : 1;
  const count = value.form === 'column' ? value.count : 1;
  return { ...describe(value.data, width, count, bins), form: value.form, kind: value.kind };
}

function describe(
  data: Readonly<Float32Array | Int32Array | Float64Array>,
  width: number,
  count: number,
  bins: number,
): Omit<Statistics, 'form' | 'kind'> {
  const minimum = new Array<number>(width).fill(Infinity);
  const maximum = new Array<number>(width).fill(-Infinity);
  const sums = new Array<number>(width).fill(0);
  const used = new Array<number>(width).fill(0);
  let notFinite = 0;
  for (let c = 0; c < width; c++) {
    let low = Infinity;
    let high = -Infinity;
    let sum = 0;
    let n = 0;
    for (let i = c; i < count * width; i += width) {
      const v = data[i];
      if (v - v !== 0) {
        notFinite++;
        continue;
      }
      if (v < low) low = v;
      if (v > high) high = v;
      sum += v;
      n++;
    }
    minimum[c] = low;
    maximum[c] = high;
    sums[c] = sum;
    used[c] = n;
  }
  const mean = sums.map((s, c) => (used[c] > 0 ? s / used[c] : NaN));
  const size = (i: number) => (width === 3 ? Math.hypot(data[i * 3], data[i * 3 + 1], data[i * 3 + 2]) : data[i * width]);
  let from = width === 3 ? Infinity : minimum[0];
  let to = width === 3 ? -Infinity : maximum[0];
  if (width === 3) {
    for (let i = 0; i < count; i++) {
      const s = size(i);
      if (s < from) from = s;
      if (s > to && s < Infinity) to = s;
    }
  }
  const histogram = new Array<number>(bins).fill(0);
  if (to >= from && width !== 16) {
    const factor = to > from ? bins / (to - from) : 0;
    for (let i = 0; i < count; i++) {
      const s = size(i);
      if (s >= from && s <= to) histogram[Math.min(bins - 1, Math.floor((s - from) * factor))]++;
    }
  }
  return { count, minimum, maximum, mean, notFinite, histogram, histogramFrom: from, histogramTo: to };
}
