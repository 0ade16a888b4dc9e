/** Remembers of each name what was last worked out from the same things (compared by identity), so that it is not worked out again. */
export class Remembered<T> {
  private readonly known = new Map<string, { from: readonly unknown[]; value: T }>();

  get(name: string, from: readonly unknown[], workOut: () => T): T {
    const was = this.known.get(name);
    if (was && was.from.length === from.length && was.from.every((v, i) => Object.is(v, from[i]))) return was.value;
    const value = workOut();
    this.known.set(name, { from, value });
    return value;
  }
}
