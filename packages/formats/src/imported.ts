import type { Matrix, Mesh } from '@umberfish/core';

/** A mesh as it came out of a file. */
export interface ImportedMesh {
  readonly name: string;
  readonly mesh: Mesh;
  /** Where the file places it: its world matrix, in metres, y up. */
  readonly matrix: Matrix;
}

/** What a file gave. */
export interface Imported {
  readonly meshes: readonly ImportedMesh[];
  /** What was left out, mended or converted, each a sentence. */
  readonly notes: readonly string[];
}

/** Why a file cannot be read: one sentence with the line or path. */
export class FormatError extends Error {}

/** How numbers in a file become metres with y up. */
export interface ImportUnits {
  /** Metres per unit of the file. */
  readonly metresPerUnit: number;
  readonly upAxis: 'y' | 'z';
}

export const METRES_Y_UP: ImportUnits = { metresPerUnit: 1, upAxis: 'y' };

/** Most points or corners a file may bring. */
export const MOST_ELEMENTS = 60_000_000;
