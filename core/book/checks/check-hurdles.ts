import { known, type TreeNames } from './check-tree';
import { pointer, type Problems } from './problems';
import { has, isObject, list, number, object, text, type Json } from './shapes';

const COUNT = ['over', 'each', 'takes', 'most'];
const KEYS = ['node', 'atLeast', 'capAt', 'letter', ...COUNT];

/** Section 6. `letters`: the bands of the book's scale and of every variant's. */
export function checkHurdles(p: Problems, v: unknown, tree: TreeNames, letters: ReadonlySet<string>): void {
  if (!list(p, '/hurdles', v)) return;
  const counted = new Set(tree.alsos.map((a) => a.of));
  v.forEach((hurdle, i) => {
    const at = `/hurdles/${i}`;
    if (!object(p, at, hurdle, KEYS, ['node'])) return;
    if (COUNT.some((key) => has(hurdle, key))) checkCount(p, at, hurdle, tree, counted);
    else checkHurdle(p, at, hurdle, tree, letters);
  });
}

function checkHurdle(p: Problems, at: string, v: Json, tree: TreeNames, letters: ReadonlySet<string>): void {
  const asksForWork = v['atLeast'] === 'handed-in';
  if (!has(v, 'atLeast')) p.add(at, 'The key "atLeast" is missing.');
  else if (!asksForWork) {
    if (typeof v['atLeast'] === 'string')
      p.add(pointer(at, 'atLeast'), 'Here a percentage or "handed-in" is expected.');
    else number(p, pointer(at, 'atLeast'), v['atLeast']);
  }
  if (has(v, 'capAt') === has(v, 'letter'))
    p.add(at, has(v, 'letter') ? 'A hurdle has either "capAt" or "letter", not both.' : 'The key "capAt" or "letter" is missing.'); // prettier-ignore
  else if (has(v, 'capAt')) checkCap(p, pointer(at, 'capAt'), v['capAt'], tree, letters);
  else text(p, pointer(at, 'letter'), v['letter']);
  const node = nodeOf(p, at, v, tree);
  if (node === null) return;
  const item = tree.items.get(node);
  if (asksForWork) {
    if (item === undefined) p.add(pointer(at, 'node'), 'Only an item can be handed in.');
  } else if (item?.points === 0) p.add(pointer(at, 'node'), 'An item of 0 points cannot be a hurdle.');
}

function checkCap(p: Problems, at: string, v: unknown, tree: TreeNames, letters: ReadonlySet<string>): void {
  if (!isObject(v)) {
    number(p, at, v);
    return;
  }
  if (!object(p, at, v, ['node', 'letter'])) return;
  if (has(v, 'node') === has(v, 'letter')) p.add(at, 'Here a percentage, {"node": …} or {"letter": …} is expected.');
  else if (has(v, 'letter')) {
    const where = pointer(at, 'letter');
    if (text(p, where, v['letter'])) known(p, where, v['letter'], letters, 'band');
  } else {
    const node = nodeOf(p, at, v, tree);
    if (node !== null && tree.items.get(node)?.points === 0)
      p.add(pointer(at, 'node'), 'An item of 0 points has no percentage to be held at.');
  }
}

function checkCount(p: Problems, at: string, v: Json, tree: TreeNames, counted: ReadonlySet<unknown>): void {
  for (const key of ['atLeast', 'capAt', 'letter'])
    if (has(v, key)) p.add(at, `What is counted takes something off: it has no "${key}".`);
  for (const key of ['over', 'each', 'takes']) if (!has(v, key)) p.add(at, `The key "${key}" is missing.`);
  if (has(v, 'over')) number(p, pointer(at, 'over'), v['over']);
  if (has(v, 'each')) number(p, pointer(at, 'each'), v['each'], { above: 0 });
  if (has(v, 'most')) number(p, pointer(at, 'most'), v['most'], { whole: true });
  if (has(v, 'takes')) checkTakes(p, pointer(at, 'takes'), v['takes']);
  const node = nodeOf(p, at, v, tree);
  if (node === null) return;
  const item = tree.items.get(node);
  const where = pointer(at, 'node');
  if (item === undefined || item.counts)
    p.add(where, 'Only an item that does not count in its group can be a number of things.'); // prettier-ignore
  else if (counted.has(node)) p.add(where, 'An item that is counted again cannot be a number of things.');
}

function checkTakes(p: Problems, at: string, v: unknown): void {
  if (!object(p, at, v, ['percent', 'letters'])) return;
  if (has(v, 'percent') === has(v, 'letters')) p.add(at, 'It takes either "percent" or "letters".');
  if (has(v, 'percent')) number(p, pointer(at, 'percent'), v['percent']);
  if (has(v, 'letters')) number(p, pointer(at, 'letters'), v['letters'], { whole: true });
}

/** The node that is named, where there is one. */
function nodeOf(p: Problems, at: string, v: Json, tree: TreeNames): string | null {
  if (!has(v, 'node')) return null;
  return known(p, pointer(at, 'node'), v['node'], tree.ids, 'group or item') ? (v['node'] as string) : null;
}
