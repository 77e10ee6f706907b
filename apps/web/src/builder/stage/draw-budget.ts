import type { WebGLRenderer } from 'three';
import { formatCount } from '../../ui/format.ts';
import { PREVIEW_KEY } from '../../engine/request.ts';
import type { DrawnItem } from './drawn-items.ts';

/** What is drawn at once, where a graphics card draws, and where the processor has to: it takes long for each copy and each mesh. */
const MOST = {
  card: { copies: 1_000_000, triangles: 10_000_000, meshes: 4000, trianglesOfMeshes: 40_000_000 },
  processor: { copies: 4000, triangles: 400_000, meshes: 1000, trianglesOfMeshes: 4_000_000 },
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

/** What a stage draws as it is, and what it stands in for by boxes. */
export interface DrawnSplit {
  readonly whole: readonly DrawnItem[];
  readonly boxed: readonly DrawnItem[];
}

/**
 * Which meshes are drawn whole: what is previewed or picked first, then the others as they come, until that is as much as can be turned.
 * One at least is, however large.
 */
export function splitByBudget(items: readonly DrawnItem[], picked: ReadonlySet<string>, isSoftware: boolean): DrawnSplit {
  const most = isSoftware ? MOST.processor : MOST.card;
  const sizeOf = ({ mesh }: DrawnItem) => (mesh.instances ? 0 : mesh.topology.triangles.length / 3);
  const all = items.reduce((n, i) => n + sizeOf(i), 0);
  if (items.length <= most.meshes && all <= most.trianglesOfMeshes) return { whole: items, boxed: [] };
  const isAsked = (i: DrawnItem) => i.id === PREVIEW_KEY || (i.object !== null && picked.has(i.object));
  const inOrder = [...items.filter(isAsked), ...items.filter((i) => !isAsked(i))];
  const whole = new Set<DrawnItem>();
  let triangles = 0;
  for (const item of inOrder) {
    triangles += sizeOf(item);
    if (whole.size >= most.meshes || (whole.size > 0 && triangles > most.trianglesOfMeshes)) break;
    whole.add(item);
  }
  return { whole: items.filter((i) => whole.has(i)), boxed: items.filter((i) => !whole.has(i)) };
}

/** What is said where not all meshes are drawn whole; undefined where they are. */
export const boxedWords = ({ whole, boxed }: DrawnSplit): string | undefined =>
  boxed.length === 0
    ? undefined
    : `${formatCount(whole.length)} of ${formatCount(whole.length + boxed.length)} meshes are drawn whole, what is picked first; the others as their boxes. All are in the result.`;

/** What is said where not all copies are drawn; undefined where they are. */
export const thinnedWords = ({ copies, triangles }: Copied, stride: number): string | undefined =>
  stride === 1
    ? undefined
    : `1 of ${formatCount(stride)} copies is drawn: there are ${formatCount(copies)}, of ${formatCount(triangles)} triangles. All are in the result.`;
