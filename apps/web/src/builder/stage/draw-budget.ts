import type { WebGLRenderer } from 'three';
import { formatCount } from '../../ui/format.ts';
import type { DrawnItem } from './drawn-items.ts';

/** What of copies is drawn at once, where a graphics card draws, and where the processor has to: it takes long for each copy. */
const MOST = {
  card: { copies: 1_000_000, triangles: 10_000_000 },
  processor: { copies: 4000, triangles: 400_000 },
} as const;

/** How many copies there are on a stage, and how many triangles all of them have. */
export interface Copied {
  readonly copies: number;
  readonly triangles: number;
}

/** Whether a stage is drawn by the processor. */
export function isDrawnBySoftware(renderer: Pick<WebGLRenderer, 'getContext'>): boolean {
  const gl = renderer.getContext();
  const info = gl.getExtension('WEBGL_debug_renderer_info');
  const name: unknown = info ? gl.getParameter(info.UNMASKED_RENDERER_WEBGL) : '';
  return /swiftshader|llvmpipe|software|basic render/i.test(String(name));
}

export function copied(items: readonly DrawnItem[]): Copied {
  const all = { copies: 0, triangles: 0 };
  for (const { mesh } of items) {
    const copies = (mesh.instances?.matrices.length ?? 0) / 16;
    all.copies += copies;
    all.triangles += copies * (mesh.topology.triangles.length / 3);
  }
  return all;
}

/** Each how many-eth copy is drawn, so that a stage can be turned: 1 is all of them. */
export function copyStride({ copies, triangles }: Copied, isSoftware: boolean): number {
  const most = isSoftware ? MOST.processor : MOST.card;
  return Math.max(1, Math.ceil(triangles / most.triangles), Math.ceil(copies / most.copies));
}

/** What is said where not all copies are drawn; undefined where they are. */
export const thinnedWords = ({ copies, triangles }: Copied, stride: number): string | undefined =>
  stride === 1
    ? undefined
    : `1 of ${formatCount(stride)} copies is drawn: there are ${formatCount(copies)}, of ${formatCount(triangles)} triangles. All are in the result.`;
