/** Whether two records hold the same values under the same names. */
export function isAlike<T>(a: Readonly<Record<string, T>>, b: Readonly<Record<string, T>>): boolean {
  if (a === b) return true;
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((k) => a[k] === b[k]);
}

/** A record without one of its names. */
export function without<T>(record: Readonly<Record<string, T>>, key: string): Readonly<Record<string, T>> {
  const { [key]: _gone, ...others } = record;
  return others;
}
