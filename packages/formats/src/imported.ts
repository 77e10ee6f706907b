import type { Matrix, Mesh } from '@umberfish/core';

/** A mesh as it came out of a file. */
export interface ImportedMesh {
  readonly name: string;
  readonly mesh: Mesh;
  /** Where the file places it: its world matrix, in metres, y up. */
  readonly matrix: Matrix;
}

/** An object of a file's hierarchy, with its place under its parent. */
export interface ImportedObject {
  readonly name: string;
  /** Number of the one it hangs under; null under the world. Parents come before their children. */
  readonly parent: number | null;
  /** Number of its mesh among the meshes, or null. */
  readonly mesh: number | null;
  /** Its matrix under its parent, in metres. */
  readonly matrix: Matrix;
  /** What it is, where the file says more than that it has a mesh or not. */
  readonly kind?: 'chain' | 'joint';
  /** Of a joint: where it rests, under what it hangs under. */
  readonly rest?: Matrix;
  /** Of a mesh with weights: the number of the chain that moves it. */
  readonly chain?: number;
  /** How it moves: its matrix at some moments, or nothing. */
  readonly motion: ImportedMotion | null;
}

/** Matrices over time; between two of them a straight line, or a step. */
export interface ImportedMotion {
  readonly seconds: readonly number[];
  readonly matrices: readonly Matrix[];
  readonly steps: boolean;
}

/** What a file gave. */
export interface Imported {
  readonly meshes: readonly ImportedMesh[];
  /** The hierarchy, for files that have one. */
  readonly objects?: readonly ImportedObject[];
  /** What was left out, mended or converted, each a sentence. */
  readonly notes: readonly string[];
}

/** Why a file cannot be read: one sentence with the line or path. */
export class FormatError extends Error {}

/** Most points or corners a file may bring. */
export const MOST_ELEMENTS = 60_000_000;
