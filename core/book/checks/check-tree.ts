import { type RuleNames, unique } from './check-rules';
import { pointer, type Problems } from './problems';
import { boolean, choice, has, id, isObject, list, moment, number, object, type Json } from './shapes';

/** What the tree defines: items and groups by id, with the facts that other parts are checked against. */
export interface TreeNames {
  ids: Set<string>;
  items: Map<string, { index: number; points: number; marks: Set<string> | null }>;
}

const COMMON = ['id', 'type', 'weight', 'extraCredit', 'alwaysKept', 'late', 'blank'];
const ITEM = [...COMMON, 'points', 'counts', 'due', 'closes', 'sectionDates', 'marks', 'attempts', 'curve'];
const GROUP = [...COMMON, 'combine', 'drop', 'keepBest', 'whenEmpty', 'cap', 'floor', 'children'];
export const DEEPEST = 32;

/** Sections 2 and 5. Walks without recursion on hostile depth: below {@link DEEPEST} groups nothing is read. */
export function checkTree(p: Problems, at: string, v: unknown, rules: RuleNames): TreeNames {
  const names: TreeNames = { ids: new Set(), items: new Map() };
  if (isObject(v) && v['type'] === 'item') p.add(at, 'The root of the tree must be a group.');
  else if (isObject(v) && v['extraCredit'] === true)
    p.add(pointer(at, 'extraCredit'), 'The root of the tree cannot be extra credit.');
  checkNode(p, at, v, rules, names, 1, null);
  return names;
}

function checkNode(
  p: Problems,
  at: string,
  v: unknown,
  rules: RuleNames,
  names: TreeNames,
  depth: number,
  parent: Json | null,
): void {
  if (!isObject(v)) {
    object(p, at, v, []);
    return;
  }
  if (!has(v, 'type')) p.add(at, 'The key "type" is missing.');
  else if (!choice(p, pointer(at, 'type'), v['type'], ['item', 'group'])) return;
  const group = v['type'] === 'group' || (!has(v, 'type') && has(v, 'children'));
  if (group) object(p, at, v, GROUP, ['id', 'combine', 'children']);
  else object(p, at, v, ITEM, ['id', 'points']);
  if (has(v, 'id') && id(p, pointer(at, 'id'), v['id'])) unique(p, pointer(at, 'id'), names.ids, v['id'], 'id');
  if (has(v, 'weight')) number(p, pointer(at, 'weight'), v['weight']);
  for (const key of ['extraCredit', 'alwaysKept']) if (has(v, key)) boolean(p, pointer(at, key), v[key]);
  if (has(v, 'late') && v['late'] !== null) known(p, pointer(at, 'late'), v['late'], rules.late, 'late rule');
  if (has(v, 'blank')) known(p, pointer(at, 'blank'), v['blank'], rules.blank, 'blank rule');
  if (group) checkGroup(p, at, v, rules, names, depth);
  else checkItem(p, at, v, rules, names, parent);
}

export function known(
  p: Problems,
  at: string,
  v: unknown,
  names: { has(name: string): boolean },
  what: string,
): boolean {
  if (typeof v === 'string' && names.has(v)) return true;
  p.add(
    at,
    typeof v === 'string'
      ? `There is no ${what} named "${v.slice(0, 80)}".`
      : `Here the name of a ${what} is expected.`,
  );
  return false;
}

function checkGroup(p: Problems, at: string, v: Json, rules: RuleNames, names: TreeNames, depth: number): void {
  if (has(v, 'combine')) choice(p, pointer(at, 'combine'), v['combine'], ['points', 'weights', 'equal']);
  if (has(v, 'whenEmpty')) choice(p, pointer(at, 'whenEmpty'), v['whenEmpty'], ['skip', 'zero']);
  if (has(v, 'drop') && has(v, 'keepBest')) p.add(at, 'A group has either "drop" or "keepBest", not both.');
  if (has(v, 'drop') && object(p, pointer(at, 'drop'), v['drop'], ['lowest', 'highest']))
    for (const key of ['lowest', 'highest'])
      if (has(v['drop'], key)) number(p, pointer(pointer(at, 'drop'), key), v['drop'][key], { whole: true });
  if (has(v, 'keepBest') && number(p, pointer(at, 'keepBest'), v['keepBest'], { whole: true }) && v['keepBest'] === 0)
    p.add(pointer(at, 'keepBest'), 'To keep the best 0 would leave nothing.');
  const limit = (key: string): number | null =>
    has(v, key) && v[key] !== null && number(p, pointer(at, key), v[key]) ? (v[key] as number) : null;
  const cap = limit('cap');
  const floor = limit('floor');
  if (cap !== null && floor !== null && floor > cap)
    p.add(pointer(at, 'floor'), `The floor, ${floor} %, is above the cap, ${cap} %.`);
  if (!has(v, 'children') || !list(p, pointer(at, 'children'), v['children'])) return;
  v['children'].forEach((child, i) => {
    const where = pointer(pointer(at, 'children'), i);
    const deeper = isObject(child) && (child['type'] === 'group' || has(child, 'children'));
    if (deeper && depth >= DEEPEST) p.add(where, `Groups nest at most ${DEEPEST} deep.`);
    else checkNode(p, where, child, rules, names, depth + 1, v);
  });
}

function checkItem(p: Problems, at: string, v: Json, rules: RuleNames, names: TreeNames, parent: Json | null): void {
  const sound = has(v, 'points') && number(p, pointer(at, 'points'), v['points']);
  if (has(v, 'counts')) boolean(p, pointer(at, 'counts'), v['counts']);
  if (
    sound &&
    v['points'] === 0 &&
    v['counts'] !== false &&
    !(v['extraCredit'] === true && parent?.['combine'] === 'points')
  )
    p.add(pointer(at, 'points'), 'An item that counts needs points above 0.');
  dates(p, at, v);
  if (has(v, 'sectionDates')) {
    const where = pointer(at, 'sectionDates');
    if (!isObject(v['sectionDates'])) object(p, where, v['sectionDates'], []);
    else
      for (const [section, own] of Object.entries(v['sectionDates'])) {
        if (section === 'info') continue;
        const here = pointer(where, section);
        id(p, here, section);
        if (!object(p, here, own, ['due', 'closes'])) continue;
        if (!has(own, 'due') && !has(own, 'closes')) p.add(here, 'Dates of a section need "due", "closes" or both.');
        dates(p, here, own);
      }
  }
  let marks: Set<string> | null = null;
  if (has(v, 'marks') && v['marks'] !== null && known(p, pointer(at, 'marks'), v['marks'], rules.marks, 'set of marks'))
    marks = rules.marks.get(v['marks'] as string)!;
  if (has(v, 'attempts')) checkAttempts(p, pointer(at, 'attempts'), v['attempts']);
  if (has(v, 'curve') && v['curve'] !== null) checkCurve(p, pointer(at, 'curve'), v['curve']);
  if (typeof v['id'] === 'string' && !names.items.has(v['id']))
    names.items.set(v['id'], { index: names.items.size, points: sound ? (v['points'] as number) : 1, marks });
}

/** The percents that a way of using attempts needs, and no other has. */
const PERCENT_OF_USE = { decaying: 'newest', regain: 'regain' } as const;

function checkAttempts(p: Problems, at: string, v: unknown): void {
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

function dates(p: Problems, at: string, v: Json): void {
  for (const key of ['due', 'closes']) if (has(v, key)) moment(p, pointer(at, key), v[key]);
}

function checkCurve(p: Problems, at: string, v: unknown): void {
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
  else if (list(p, where, v[key])) {
    if (v[key].length < 2) p.add(where, 'A curve needs at least two points.');
    let before = -Infinity;
    v[key].forEach((pair, i) => {
      const here = pointer(where, i);
      if (!Array.isArray(pair) || pair.length !== 2) return p.add(here, 'Here a pair [x, y] is expected.');
      number(p, pointer(here, 1), pair[1]);
      if (!number(p, pointer(here, 0), pair[0])) return;
      if (pair[0] <= before) p.add(pointer(here, 0), 'The x values of a curve must rise strictly.');
      before = pair[0];
    });
  }
}
