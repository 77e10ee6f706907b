/** How large what an OBJ file holds is, in the units of the file, by its own axes; undefined where it has no places. */
export function objExtent(bytes: Uint8Array): readonly [number, number, number] | undefined {
  const text = new TextDecoder().decode(bytes);
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  const line = /^[ \t]*v[ \t]+(\S+)[ \t]+(\S+)[ \t]+(\S+)/gm;
  for (let found = line.exec(text); found; found = line.exec(text)) {
    for (let axis = 0; axis < 3; axis++) {
      const v = Number(found[axis + 1]);
      if (!Number.isFinite(v)) continue;
      if (v < low[axis]) low[axis] = v;
      if (v > high[axis]) high[axis] = v;
    }
  }
  return low[0] <= high[0] && low[1] <= high[1] && low[2] <= high[2]
    ? [high[0] - low[0], high[1] - low[1], high[2] - low[2]]
    : undefined;
}
