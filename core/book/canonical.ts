/** JSON with the keys of every object in code-unit order: the same data always gives the same text. */
export function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map((v) => canonical(v === undefined ? null : v)).join(',')}]`;
  if (typeof value === 'object' && value !== null) {
    const object = value as Record<string, unknown>;
    const parts = Object.keys(object)
      .sort()
      .filter((k) => object[k] !== undefined)
      .map((k) => `${JSON.stringify(k)}:${canonical(object[k])}`);
    return `{${parts.join(',')}}`;
  }
  return JSON.stringify(value);
}
