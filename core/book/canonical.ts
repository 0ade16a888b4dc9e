/** JSON with the keys of every object in code-unit order: the same data always gives the same text. */
export function canonical(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  if (Array.isArray(value)) return `[${value.map((v) => canonical(v === undefined ? null : v)).join(',')}]`;
  // Put together without lists between: it is asked four times for every score that is kept.
  const object = value as Record<string, unknown>;
  let members = '';
  for (const key of Object.keys(object).sort()) {
    const member = object[key];
    if (member === undefined) continue;
    members += `${members === '' ? '' : ','}${JSON.stringify(key)}:${canonical(member)}`;
  }
  return `{${members}}`;
}
