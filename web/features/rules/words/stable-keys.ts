/** Something drawn in a list, with a key that stays while it is the same thing, whatever it is called by now. */
export interface Keyed<T> {
  key: string;
  value: T;
}

/**
 * Keys for a list that was drawn before. What has the id that it had keeps its key. What is called otherwise, in a list
 * that is as long as it was, is what stood at its place: a rule that was given another name, not another rule. So the box
 * that somebody types in is not drawn anew under them.
 */
export function keyedAnew<T extends { id: string }>(now: readonly T[], before: readonly Keyed<T>[]): Keyed<T>[] {
  const was = new Map(before.map((k) => [k.value.id, k.key]));
  const here = new Set(now.map((s) => s.id));
  const taken = new Set<string>();
  return now.map((value, at) => {
    const there = now.length === before.length ? before[at] : undefined;
    let key = was.get(value.id) ?? (there && !here.has(there.value.id) ? there.key : value.id);
    while (taken.has(key)) key += '+';
    taken.add(key);
    return { key, value };
  });
}

/** Keys of pieces by their kind and which of that kind they are: "number 2". */
export function pieceKeys(kinds: readonly string[]): string[] {
  const counts = new Map<string, number>();
  return kinds.map((kind) => {
    const n = counts.get(kind) ?? 0;
    counts.set(kind, n + 1);
    return `${kind} ${n}`;
  });
}
