import { pointer, type Problems } from './problems';
import { choice, has, list, line, number, object, rising, type Json } from './shapes';

export const COMBINES = ['points', 'weights', 'equal', 'median', 'decaying'];

/** It makes one figure of all its children in a way of its own, so that nothing is dropped. */
export const isOwnKind = (v: Json): boolean => v['combine'] === 'median' || v['combine'] === 'decaying';

/** What goes with a way to combine and with no other (section 5). */
export function checkCombined(p: Problems, at: string, v: Json): void {
  if (isOwnKind(v))
    for (const key of ['drop', 'keepBest'])
      if (has(v, key)) p.add(pointer(at, key), `A group that is "${String(v['combine'])}" drops nothing.`);
  const where = pointer(at, 'newest');
  if (v['combine'] !== 'decaying') {
    if (has(v, 'newest')) p.add(where, '"newest" goes with "combine": "decaying" alone.');
  } else if (!has(v, 'newest')) p.add(at, 'The key "newest" is missing.');
  else number(p, where, v['newest'], { above: 0, most: 100 });
}

const KINDS = ['step', 'through', 'steps'];
export const ROUNDINGS = ['half-up', 'half-even', 'down'];

/** Section 5.1, step 4. */
export function checkThen(p: Problems, at: string, v: unknown): void {
  if (!object(p, at, v, [...KINDS, 'mode'])) return;
  const kinds = KINDS.filter((key) => has(v, key));
  if (kinds.length !== 1) p.add(at, 'It is one of "step" with its "mode", "through" and "steps".');
  if (has(v, 'step')) {
    number(p, pointer(at, 'step'), v['step'], { above: 0 });
    if (!has(v, 'mode')) p.add(at, 'The key "mode" is missing.');
  }
  if (has(v, 'mode')) {
    if (has(v, 'step')) choice(p, pointer(at, 'mode'), v['mode'], ROUNDINGS);
    else if (kinds.length > 0) p.add(pointer(at, 'mode'), '"mode" goes with "step" alone.');
  }
  if (has(v, 'through')) line(p, pointer(at, 'through'), v['through']);
  const where = pointer(at, 'steps');
  if (!has(v, 'steps') || !list(p, where, v['steps'])) return;
  if (v['steps'].length === 0) p.add(where, 'It needs at least one step.');
  rising(p, where, v['steps'], 'The first numbers of the steps must rise strictly.');
}
