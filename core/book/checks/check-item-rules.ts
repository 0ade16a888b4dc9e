import { pointer, type Problems } from './problems';
import { choice, has, isObject, line, number, object } from './shapes';

/** The percents that a way of using attempts needs, and no other has. */
const PERCENT_OF_USE = { decaying: 'newest', regain: 'regain' } as const;

/** Section 4: what becomes of several attempts. */
export function checkAttempts(p: Problems, at: string, v: unknown): void {
  const percents = Object.values(PERCENT_OF_USE);
  if (!object(p, at, v, ['use', 'retakeCap', ...percents])) return;
  const use = has(v, 'use') ? v['use'] : 'best';
  if (has(v, 'use')) choice(p, pointer(at, 'use'), use, ['best', 'latest', 'first', 'mean', 'decaying', 'regain']);
  const cap = v['retakeCap'];
  const where = pointer(at, 'retakeCap');
  if (Array.isArray(cap)) {
    if (cap.length === 0) p.add(where, 'A list of caps needs at least one, for the second attempt.');
    cap.forEach((c, i) => number(p, pointer(where, String(i)), c));
  } else if (has(v, 'retakeCap')) number(p, where, cap);
  for (const [of, key] of Object.entries(PERCENT_OF_USE)) {
    if (!has(v, key)) {
      if (use === of) p.add(at, `The key "${key}" is missing.`);
    } else if (use !== of) p.add(pointer(at, key), `"${key}" goes with "use": "${of}" alone.`);
    else number(p, pointer(at, key), v[key], key === 'newest' ? { above: 0, most: 100 } : { most: 100 });
  }
}

/** Section 4: a curve on raw points. */
export function checkCurve(p: Problems, at: string, v: unknown): void {
  if (!isObject(v)) {
    object(p, at, v, []);
    return;
  }
  if (!has(v, 'kind')) p.add(at, 'The key "kind" is missing.');
  else if (!choice(p, pointer(at, 'kind'), v['kind'], ['add', 'top', 'line'])) return;
  const key = v['kind'] === 'add' ? 'points' : v['kind'] === 'top' ? 'at' : 'through';
  object(p, at, v, ['kind', key], has(v, 'kind') ? [key] : []);
  if (!has(v, key)) return;
  const where = pointer(at, key);
  if (v['kind'] === 'add') number(p, where, v[key], { negative: true });
  else if (v['kind'] === 'top') number(p, where, v[key], { above: 0 });
  else line(p, where, v[key]);
}
