import { findAttribute, type Mesh } from '@umberfish/core';
import { FormatError } from './imported.ts';

/** Where something of a mesh that goes into files is not finite: the element, in words; undefined where all is. */
export function notFiniteIn(mesh: Mesh): string | undefined {
  const places = firstBad(mesh.positions);
  if (places >= 0) return `the position of point ${Math.floor(places / 3)}`;
  const uv = findAttribute(mesh, 'uv', 'corner')?.data;
  const uvs = uv ? firstBad(uv) : -1;
  return uvs >= 0 ? `the uv of corner ${Math.floor(uvs / 2)}` : undefined;
}

/** @throws FormatError that names the mesh and the element */
export function needFinite(name: string, mesh: Mesh): void {
  const what = notFiniteIn(mesh);
  if (what) throw new FormatError(`"${name}": ${what} is not a finite number, and files hold only such.`);
}

const firstBad = (numbers: ArrayLike<number>): number => {
  for (let i = 0; i < numbers.length; i++) if (!Number.isFinite(numbers[i])) return i;
  return -1;
};
