/** Works something out of an object once, for as long as that object lives. Only for objects that are never changed in place. */
export function memoize<K extends object, V extends object>(work: (of: K) => V): (of: K) => V {
  const known = new WeakMap<K, V>();
  return (of) => {
    const before = known.get(of);
    if (before) return before;
    const value = work(of);
    known.set(of, value);
    return value;
  };
}
