/** Puts a circle's cosine and sine and the height along an axis into xyz order. */
export const aboutAxis = (axis: number, c: number, s: number, height: number): number[] => {
  const out = [0, 0, 0];
  out[axis] = height;
  out[(axis + 2) % 3] = c;
  out[(axis + 1) % 3] = s;
  return out;
};
