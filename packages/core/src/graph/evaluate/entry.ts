import type { Entry, PortSummary } from './cache.ts';
import type { Curves } from '../../curves/curves.ts';
import { allFinite, areFinite, isFiniteMatrix, isToldFinite, tellFinite } from '../../maths/finite.ts';
import { falloffWords } from '../../falloffs/falloff.ts';
import { pointsOf } from '../node/points-of.ts';
import { isNumbers, type Value } from '../node/values.ts';

/** The first number of a value that is not finite, by element, and how many there are. */
export function firstBad(value: Value): { index: number; count: number } | undefined {
  const data = isNumbers(value) ? value.data : value.form === 'copies' ? undefined : pointsOf(value);
  if (value.form === 'copies') {
    const { matrices } = value.copies;
    const bad = isToldFinite(matrices) ? undefined : firstBadCopy(matrices);
    // Matrices of copies are never written over, as packed ones may be.
    if (!bad) tellFinite(matrices, 0);
    return bad;
  }
  if (value.form === 'matrices') return firstBadCopy(value.data);
  if (value.form === 'chain') return firstBadCopy(value.chain.posed) ?? firstBadCopy(value.chain.rest);
  if (value.form === 'curves') return firstBadPoint(value.curves);
  if (!data) return undefined;
  if (data instanceof Int32Array || (data instanceof Float32Array && isToldFinite(data))) return undefined;
  if (data instanceof Float32Array ? allFinite(data, 0, data.length) : areFinite(data as Float64Array)) {
    // What a node has put out is never written over.
    if (data instanceof Float32Array) tellFinite(data, 0);
    return undefined;
  }
  const width = !isNumbers(value) || value.kind === 'vector' ? 3 : 1;
  let index = -1;
  let count = 0;
  for (let i = 0; i < data.length; i++) {
    if (Number.isFinite(data[i])) continue;
    if (index < 0) index = Math.floor(i / width);
    count++;
  }
  return { index, count };
}

/** The first copy whose matrix is not finite. */
function firstBadCopy(matrices: Readonly<Float64Array>): { index: number; count: number } | undefined {
  let a = 0,
    b = 0,
    c = 0,
    d = 0;
  for (let o = 0; o < matrices.length; o += 4) {
    a += matrices[o] * 0;
    b += matrices[o + 1] * 0;
    c += matrices[o + 2] * 0;
    d += matrices[o + 3] * 0;
  }
  if (a + b + c + d === 0) return undefined;
  let index = -1;
  let count = 0;
  for (let copy = 0; copy < matrices.length / 16; copy++) {
    if (isFiniteMatrix(matrices, copy * 16)) continue;
    if (index < 0) index = copy;
    count++;
  }
  return { index, count };
}

/** The first control point of which something is not finite: its place, its handles, its roll or its width. */
function firstBadPoint({ positions, handles, roll, width }: Curves): { index: number; count: number } | undefined {
  const parts = [
    [positions, 3],
    [handles, 6],
    [roll, 1],
    [width, 1],
  ] as const;
  if (parts.every(([data]) => allFinite(data, 0, data.length))) return undefined;
  const isBad = (i: number) => parts.some(([data, wide]) => !allFinite(data, i * wide, (i + 1) * wide));
  const bad = Array.from(roll, (_, i) => i).filter(isBad);
  return { index: bad[0], count: bad.length };
}

/** What a card shows of each output. */
export function summariesOf(entry: Entry): Record<string, PortSummary> {
  const found: Record<string, PortSummary> = Object.fromEntries(entry.passing ?? []);
  for (const [port, value] of entry.values) found[port] = summaryOf(value);
  return found;
}

function summaryOf(value: Value): PortSummary {
  if (value.form === 'geometry') {
    const attributes = value.mesh.attributes.map(({ name, type, on }) => ({ name, type, on }));
    return { form: 'geometry', kind: 'mesh', count: value.mesh.topology.pointCount, attributes };
  }
  if (value.form === 'curves') return { form: 'curves', kind: 'curves', count: value.curves.shape.pointCount };
  if (value.form === 'copies') {
    const attributes = value.copies.attributes.map(({ name, type }) => ({ name, type, on: 'copy' }));
    return { form: 'copies', kind: 'copies', count: value.copies.count, attributes };
  }
  if (value.form === 'falloff') return { form: 'falloff', kind: 'falloff', count: 1, words: falloffWords(value.falloff) };
  if (value.form === 'chain') return { form: 'chain', kind: 'chain', count: value.chain.count, names: value.chain.names };
  if (value.form === 'driven') return { form: 'driven', kind: 'driven', count: value.driven.size };
  if (value.form === 'matrices') return { form: 'matrices', kind: 'matrix', count: value.count };
  if (value.form === 'column') return { form: 'column', kind: value.kind, count: value.count };
  return { form: 'single', kind: value.kind, count: 1, single: Array.from(value.data) };
}
