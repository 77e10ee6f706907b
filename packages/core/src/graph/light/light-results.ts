import { copyMatrix, type Matrix } from '../../maths/matrix.ts';
import type { FlatOutline } from './flat-outline.ts';

/**
 * What light units made at a frame: all that a node makes (an entry), or the one matrix of its kernel. Nothing of it is changed
 * once the evaluation is over, so the next one may take what has the same key.
 */
export class LightResults<Entry> {
  private readonly entries: (Entry | undefined)[];
  /** What kernels make and take, sixteen numbers each. */
  readonly sheet: Float64Array;
  /** 1 where a matrix is in the sheet. */
  readonly has: Uint8Array;

  /** @param keys two words for each unit */
  constructor(
    private readonly flat: FlatOutline,
    private readonly keys: Int32Array,
  ) {
    this.entries = new Array<Entry | undefined>(flat.count);
    this.sheet = new Float64Array(16 * flat.brought.length);
    this.has = new Uint8Array(flat.brought.length);
  }

  entry(unit: number): Entry | undefined {
    return this.entries[unit];
  }

  keep(unit: number, entry: Entry): void {
    this.entries[unit] = entry;
  }

  /** Whether the kernel of a unit has made its matrix. */
  hasMade(unit: number): boolean {
    const place = this.flat.makes[unit];
    return place >= 0 && this.has[place >> 4] === 1;
  }

  /** The matrix that the kernel of a unit made: a view, since nothing in the sheet is changed any more. */
  made(unit: number): Readonly<Matrix> {
    return new Float64Array(this.sheet.buffer, 8 * this.flat.makes[unit], 16);
  }

  /** Copies the matrix that the kernel of a unit made, if it has. */
  copyMade(unit: number, to: Float64Array, at: number): boolean {
    if (!this.hasMade(unit)) return false;
    copyMatrix(to, at, this.sheet, this.flat.makes[unit]);
    return true;
  }

  /** Takes over what others have of a unit, where the key is the same. */
  take(unit: number, from: LightResults<Entry>, at: number): void {
    const { keys } = this;
    if (keys[2 * unit] !== from.keys[2 * at] || keys[2 * unit + 1] !== from.keys[2 * at + 1]) return;
    const entry = from.entries[at];
    if (entry) this.entries[unit] = entry;
    const to = this.flat.makes[unit];
    if (to < 0 || !from.hasMade(at)) return;
    copyMatrix(this.sheet, to, from.sheet, from.flat.makes[at]);
    this.has[to >> 4] = 1;
  }
}
