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
