import { counted, identity, makeMesh, makeTopology, type Attribute, type Material } from '@umberfish/core';
import { FloatList, IntList } from './growing.ts';
import { findHardEdges, withEdges } from './hard-edges.ts';
import { FormatError, MOST_ELEMENTS, type Imported } from './imported.ts';
import { METRES_Y_UP, type ImportUnits } from './units.ts';

/** What `readObj` takes besides the text. */
export interface ObjOptions {
  /** Name of the mesh; default "Mesh". */
  name?: string;
  /** Text of the material library, when it was given along. */
  materialText?: string;
  units?: ImportUnits;
}

interface Reading {
  positions: FloatList;
  uvs: FloatList;
  normals: FloatList;
  starts: IntList;
  cornerPoints: IntList;
  cornerUvs: IntList;
  cornerNormals: IntList;
  faceMaterials: IntList;
  faceGroups: IntList;
  faceSmoothing: IntList;
  /** Names with their numbers, in the order of first use. */
  materials: Map<string, number>;
  groups: Map<string, number>;
  /** Hard edges that shading cannot tell, as pairs of points. */
  hardPairs: number[];
  material: number;
  group: number;
  smoothing: number;
  sawSmoothing: boolean;
  notes: Map<string, { became: string; noun: string; after: string; line: number; count: number }>;
}

/**
 * Reads Wavefront OBJ text into one mesh: `v`, `vt`, `vn`, `f` with polygons of any size and negative indices,
 * `o`/`g` as groups, `usemtl` as materials, hard edges from `vn` and `s`. Point order, face order and every
 * corner are kept. Lines end as they end anywhere, and remarks after numbers are passed over. Numbers that are not finite become 0 and are told; lines of other kinds are counted and told.
 * @throws FormatError with the line for a face that names a point that is not there, and for no points at all.
 */
export function readObj(text: string, options: ObjOptions = {}): Imported {
  const r: Reading = {
    positions: new FloatList(),
    uvs: new FloatList(),
    normals: new FloatList(),
    starts: new IntList(),
    cornerPoints: new IntList(),
    cornerUvs: new IntList(),
    cornerNormals: new IntList(),
    faceMaterials: new IntList(),
    faceGroups: new IntList(),
    faceSmoothing: new IntList(),
    materials: new Map(),
    groups: new Map(),
    hardPairs: [],
    material: -1,
    group: -1,
    smoothing: 0,
    sawSmoothing: false,
    notes: new Map(),
  };
  r.starts.push(0);
  let line = 0;
  let at = 0;
  const ends = lineEnds(text);
  const next = (): string => {
    const end = ends.at(at);
    const content = text.slice(at, end);
    at = end + (text[end] === '\r' && text[end + 1] === '\n' ? 2 : 1);
    line++;
    return content;
  };
  while (at < text.length) {
    let content = next();
    const firstLine = line;
    // A backslash at the end joins the next line.
    if (content.endsWith('\\') && at < text.length) {
      const parts = [content];
      while (parts[parts.length - 1].endsWith('\\') && at < text.length) {
        parts[parts.length - 1] = parts[parts.length - 1].slice(0, -1);
        parts.push(next());
      }
      content = parts.join(' ');
    }
    readLine(r, content.trim(), firstLine);
  }
  if (r.positions.length === 0) throw new FormatError('No points (lines that begin with "v") were found. Is this an OBJ file?');
  return finish(r, options);
}

/** Where lines end: at a line feed, a carriage return, or both. */
function lineEnds(text: string): { at(from: number): number } {
  const onlyFeeds = !text.includes('\r');
  let feed = -1;
  let carriage = -1;
  const after = (sign: string, from: number) => {
    const found = text.indexOf(sign, from);
    return found < 0 ? text.length : found;
  };
  return {
    at(from) {
      if (feed < from) feed = after('\n', from);
      if (onlyFeeds) return feed;
      if (carriage < from) carriage = after('\r', from);
      return Math.min(feed, carriage);
    },
  };
}

/** Counts what became of things that could not be read: `Left out`, of a noun and what follows it. */
function note(r: Reading, became: string, noun: string, after: string, line: number): void {
  const what = `${became} ${noun} ${after}`;
  const known = r.notes.get(what);
  if (known) known.count++;
  else r.notes.set(what, { became, noun, after, line, count: 1 });
}

function readLine(r: Reading, content: string, line: number): void {
  if (content === '') return;
  const words = content.split(/\s+/);
  // Names may hold this sign; after numbers it begins a remark.
  const remark = /^(v|vt|vn|f|s)$/.test(words[0]) ? words.findIndex((w) => w.startsWith('#')) : -1;
  if (remark > 0) words.length = remark;
  switch (words[0]) {
    case '#':
      if (words[1] === 'hard') readHard(r, words);
      break;
    case 'v':
      pushNumbers(r, r.positions, words, 3, line);
      if (r.positions.length > MOST_ELEMENTS * 3) throw new FormatError(`Line ${line}: more than ${MOST_ELEMENTS} points.`);
      break;
    case 'vt':
      pushNumbers(r, r.uvs, words, 2, line);
      break;
    case 'vn':
      pushNumbers(r, r.normals, words, 3, line);
      break;
    case 'f':
      readFace(r, words, line);
      break;
    case 'usemtl':
      r.material = indexIn(r.materials, words.slice(1).join(' '));
      break;
    case 'o':
    case 'g':
      r.group = indexIn(r.groups, words.slice(1).join(' ') || 'default');
      break;
    case 's':
      r.smoothing = words[1] === 'off' ? 0 : Number.parseInt(words[1] ?? '0', 10) || 0;
      r.sawSmoothing = true;
      break;
    case 'mtllib':
      break;
    default:
      if (!content.startsWith('#')) note(r, 'Left out', 'line', `of kind "${words[0].slice(0, 20)}"`, line);
  }
}

function indexIn(names: Map<string, number>, name: string): number {
  const found = names.get(name) ?? names.size;
  names.set(name, found);
  return found;
}

/** Two points with a hard edge between them, as this program writes it; any other remark is one. */
function readHard(r: Reading, words: readonly string[]): void {
  const [a, b] = [Number(words[2]) - 1, Number(words[3]) - 1];
  const isPoint = (i: number) => Number.isInteger(i) && i >= 0 && i < r.positions.length / 3;
  if (words.length === 4 && isPoint(a) && isPoint(b)) r.hardPairs.push(a, b);
}

function pushNumbers(r: Reading, list: FloatList, words: readonly string[], count: number, line: number): void {
  for (let i = 1; i <= count; i++) {
    const missing = words[i] === undefined && i > 1 && list === r.uvs;
    const v = missing ? 0 : Number(words[i]);
    const usable = Number.isFinite(Math.fround(v)) && words[i] !== '';
    if (!usable) note(r, 'Made 0', 'number', 'that cannot be read', line);
    list.push(usable ? v : 0);
  }
}

function readFace(r: Reading, words: readonly string[], line: number): void {
  if (words.length < 4) {
    note(r, 'Left out', 'face', 'with fewer than 3 corners', line);
    return;
  }
  for (let i = 1; i < words.length; i++) {
    const parts = words[i].split('/');
    r.cornerPoints.push(index(parts[0], r.positions.length / 3, 'point', line));
    r.cornerUvs.push(parts[1] ? index(parts[1], r.uvs.length / 2, 'uv', line) : -1);
    r.cornerNormals.push(parts[2] ? index(parts[2], r.normals.length / 3, 'normal', line) : -1);
  }
  if (r.cornerPoints.length > MOST_ELEMENTS) throw new FormatError(`Line ${line}: more than ${MOST_ELEMENTS} corners.`);
  r.starts.push(r.cornerPoints.length);
  r.faceMaterials.push(r.material);
  r.faceGroups.push(r.group);
  r.faceSmoothing.push(r.smoothing);
}

/** OBJ counts from 1; negative numbers count back from the last one so far. */
function index(word: string, count: number, what: string, line: number): number {
  const n = Number(word);
  const i = n < 0 ? count + n : n - 1;
  if (!Number.isInteger(n) || n === 0 || i < 0 || i >= count) {
    throw new FormatError(`Line ${line}: the face names ${what} "${word.slice(0, 20)}", but there are ${count} so far.`);
  }
  return i;
}

function finish(r: Reading, options: ObjOptions): Imported {
  const units = options.units ?? METRES_Y_UP;
  const positions = r.positions.done();
  convert(positions, units, units.metresPerUnit);
  const starts = r.starts.done();
  const corners = r.cornerPoints.done();
  const attributes: Attribute[] = [];
  const cornerUvs = r.cornerUvs.done();
  if (cornerUvs.some((i) => i >= 0)) {
    const data = new Float32Array(cornerUvs.length * 2);
    cornerUvs.forEach((i, c) => {
      if (i < 0) return;
      data[c * 2] = r.uvs.at(i * 2);
      data[c * 2 + 1] = r.uvs.at(i * 2 + 1);
    });
    attributes.push({ name: 'uv', on: 'corner', type: 'pair', role: 'plain', data });
  }
  const materials = faceNames(r.faceMaterials.done(), [...r.materials.keys()], 'Default');
  const groups = faceNames(r.faceGroups.done(), [...r.groups.keys()], 'default');
  if (materials) attributes.push({ name: 'material', on: 'face', type: 'integer', role: 'plain', data: materials.data });
  if (groups) attributes.push({ name: 'group', on: 'face', type: 'integer', role: 'plain', data: groups.data });
  const topology = makeTopology(starts, corners, positions);
  const shaded = findHardEdges(topology, cornerNormals(r), r.sawSmoothing ? r.faceSmoothing.done() : undefined);
  const hard = withEdges(topology, shaded, r.hardPairs);
  if (hard) attributes.push({ name: 'hard', on: 'edge', type: 'toggle', role: 'plain', data: hard });
  const colours = readMaterialColours(options.materialText ?? '');
  const mesh = makeMesh(positions, starts, corners, {
    attributes,
    materials: (materials?.names ?? []).map((name): Material => ({
      name,
      baseColour: colours.get(name) ?? [0.6, 0.55, 0.5],
    })),
    groups: groups?.names,
  });
  const notes = [...r.notes.values()].map(
    (n) => `${n.became}: ${counted(n.count, n.noun)} ${n.after} (first at line ${n.line}).`,
  );
  return { meshes: [{ name: options.name ?? 'Mesh', mesh, matrix: identity() }], notes };
}

/** Takes positions to metres with y up, in place: z up turns (x, y, z) into (x, z, −y). */
export function convert(xyz: Float32Array, units: ImportUnits, factor: number): void {
  for (let i = 0; i < xyz.length; i += 3) {
    const y = xyz[i + 1];
    const z = xyz[i + 2];
    xyz[i] *= factor;
    xyz[i + 1] = (units.upAxis === 'z' ? z : y) * factor;
    xyz[i + 2] = (units.upAxis === 'z' ? -y : z) * factor;
  }
}

function cornerNormals(r: Reading): Float32Array | undefined {
  const indices = r.cornerNormals.done();
  if (!indices.some((i) => i >= 0)) return undefined;
  const out = new Float32Array(indices.length * 3).fill(NaN);
  indices.forEach((i, c) => {
    if (i >= 0) for (let axis = 0; axis < 3; axis++) out[c * 3 + axis] = r.normals.at(i * 3 + axis);
  });
  return out;
}

/** Face indices into names, with a name for faces before the first; undefined when the file names nothing. */
function faceNames(data: Int32Array, names: readonly string[], first: string): { data: Int32Array; names: string[] } | undefined {
  if (names.length === 0 || data.length === 0) return undefined;
  if (!data.some((i) => i < 0)) return { data, names: [...names] };
  return { data: data.map((i) => i + 1), names: [first, ...names] };
}

/** Base colours (`Kd`) by material name of an MTL text; lines it does not know are passed over. */
export function readMaterialColours(text: string): Map<string, [number, number, number]> {
  const colours = new Map<string, [number, number, number]>();
  let name = '';
  for (const line of text.split(/\r\n?|\n/)) {
    const words = line.trim().split(/\s+/);
    if (words[0] === 'newmtl') name = words.slice(1).join(' ');
    if (words[0] !== 'Kd') continue;
    const [r, g, b] = words.slice(1, 4).map(Number);
    if ([r, g, b].every((v) => Number.isFinite(v))) colours.set(name, [r, g, b]);
  }
  return colours;
}
