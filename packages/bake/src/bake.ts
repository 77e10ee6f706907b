import type { Evaluator, Project } from '@umberfish/core';

/** What comes of a bake, piece by piece, in order. */
export type Baked =
  /** A file to be put somewhere; its name has no folder. */
  | { readonly kind: 'file'; readonly name: string; readonly content: string | Uint8Array }
  /** Something is wrong, at a frame; without `keepGoing` nothing follows the problems of that frame. */
  | { readonly kind: 'problem'; readonly frame: number; readonly message: string }
  /** What a file could not hold. */
  | { readonly kind: 'note'; readonly message: string }
  | { readonly kind: 'progress'; readonly done: number; readonly all: number };

/** What every bake needs. It reads and writes nothing itself: whoever iterates does, and stops it by leaving off. */
export interface Bake {
  readonly project: Project;
  /** Knows the meshes of the project. */
  readonly evaluator: Evaluator;
  readonly frames: readonly number[];
  /** Names of files without their ending. */
  readonly stem: string;
  /** Go on at frames with errors; default false. */
  readonly keepGoing?: boolean;
  /** Called often; throws `Cancelled` to stop within a frame. */
  readonly checkpoint?: () => void;
}
