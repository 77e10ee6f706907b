/**
 * Remembers what a function derives from an immutable object for as long as that object lives. The result must
 * depend on the object alone.
 */
export function memoize<K extends object, V>(derive: (key: K) => V): (key: K) => V {
  const known = new WeakMap<K, V>();
  return (key) => {
    let value = known.get(key);
    if (value === undefined) {
      value = derive(key);
      known.set(key, value);
    }
    return value;
  };
}

/** The same for what is derived from two immutable objects, the first of which is one of few: remembered while both live. */
export function memoizeWithin<W extends object, K extends object, V>(derive: (within: W, key: K) => V): (within: W, key: K) => V {
  const known = memoize((within: W) => memoize((key: K) => derive(within, key)));
  return (within, key) => known(within)(key);
}
