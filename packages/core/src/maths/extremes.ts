/** The largest of numbers, however many (spread into a call, a hundred thousand may not fit); `least` when none is larger. */
export function largest(numbers: Iterable<number>, least = -Infinity): number {
  let found = least;
  for (const v of numbers) if (v > found) found = v;
  return found;
}

/** The smallest of numbers; `most` when none is smaller. */
export function smallest(numbers: Iterable<number>, most = Infinity): number {
  let found = most;
  for (const v of numbers) if (v < found) found = v;
  return found;
}
