import { checkAlso, checkAlsos } from './check-alsos';
import { checkCombined, checkThen, COMBINES, isOwnKind } from './check-group-rules';
import { checkAttempts, checkCurve } from './check-item-rules';
import { type RuleNames, unique } from './check-rules';
import { pointer, type Problems } from './problems';
import { boolean, choice, has, id, isObject, list, moment, number, object, type Json } from './shapes';

/** What the tree defines: items and other nodes by id, with the facts that other parts are checked against. */
export interface TreeNames {
  ids: Set<string>;
  items: Map<string, ItemFacts>;
  /** Groups with what they hold. */
  groups: Map<string, GroupFacts>;
  /** In the order of the tree. */
  alsos: AlsoFacts[];
}
export interface ItemFacts {
  index: number;
  points: number;
  counts: boolean;
  marks: Set<string> | null;
}
export interface GroupFacts {
  at: string;
  parent: string | null;
  /** Ids of the groups, and numbers of the alsos, that are its children. */
  groups: string[];
  alsos: number[];
}
export interface AlsoFacts {
  at: string;
  id: string;
  of: unknown;
  /** The group that holds it. */
  parent: string | null;
  reaching: boolean;
}
export const noNames = (): TreeNames => ({ ids: new Set(), items: new Map(), groups: new Map(), alsos: [] });

const COUNTED = ['id', 'type', 'weight', 'extraCredit', 'alwaysKept'];
const COMMON = [...COUNTED, 'late', 'blank'];
const ITEM = [...COMMON, 'points', 'counts', 'due', 'closes', 'sectionDates', 'marks', 'attempts', 'curve'];
const GROUP = [...COMMON, 'combine', 'drop', 'keepBest', 'newest', 'extraAtMost', 'then', 'whenEmpty', 'cap', 'floor', 'children']; // prettier-ignore
const ALSO = [...COUNTED, 'of', 'points', 'standsIn', 'through', 'from', 'reaching'];
export const DEEPEST = 32;

/** Sections 2 and 5. Walks without recursion on hostile depth: below {@link DEEPEST} groups nothing is read. */
export function checkTree(p: Problems, at: string, v: unknown, rules: RuleNames): TreeNames {
  const names = noNames();
  if (isObject(v) && (v['type'] === 'item' || v['type'] === 'also')) p.add(at, 'The root of the tree must be a group.');
  else if (isObject(v) && v['extraCredit'] === true)
    p.add(pointer(at, 'extraCredit'), 'The root of the tree cannot be extra credit.');
  checkNode(p, at, v, rules, names, 1, null);
  checkAlsos(p, names);
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
  else if (!choice(p, pointer(at, 'type'), v['type'], ['item', 'group', 'also'])) return;
  const group = v['type'] === 'group' || (!has(v, 'type') && has(v, 'children'));
  const also = v['type'] === 'also';
  if (group) object(p, at, v, GROUP, ['id', 'combine', 'children']);
  else if (also) object(p, at, v, ALSO, ['id', 'of']);
  else object(p, at, v, ITEM, ['id', 'points']);
  if (has(v, 'id') && id(p, pointer(at, 'id'), v['id'])) unique(p, pointer(at, 'id'), names.ids, v['id'], 'id');
  if (has(v, 'weight')) number(p, pointer(at, 'weight'), v['weight']);
  for (const key of ['extraCredit', 'alwaysKept']) if (has(v, key)) boolean(p, pointer(at, key), v[key]);
  if (also) return checkAlso(p, at, v, names, parent);
  if (has(v, 'late') && v['late'] !== null) known(p, pointer(at, 'late'), v['late'], rules.late, 'late rule');
  if (has(v, 'blank')) known(p, pointer(at, 'blank'), v['blank'], rules.blank, 'blank rule');
  if (group) checkGroup(p, at, v, rules, names, depth, parent);
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

function checkGroup(
  p: Problems,
  at: string,
  v: Json,
  rules: RuleNames,
  names: TreeNames,
  depth: number,
  parent: Json | null,
): void {
  noteGroup(names, at, v, parent);
  if (has(v, 'combine')) choice(p, pointer(at, 'combine'), v['combine'], COMBINES);
  checkCombined(p, at, v);
  if (has(v, 'extraAtMost')) number(p, pointer(at, 'extraAtMost'), v['extraAtMost']);
  if (has(v, 'then') && v['then'] !== null) checkThen(p, pointer(at, 'then'), v['then']);
  if (has(v, 'whenEmpty')) choice(p, pointer(at, 'whenEmpty'), v['whenEmpty'], ['skip', 'zero']);
  const together = has(v, 'drop') && has(v, 'keepBest') && !isOwnKind(v);
  if (together) p.add(pointer(at, 'keepBest'), 'A group has either "drop" or "keepBest", not both.');
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
    names.items.set(v['id'], {
      index: names.items.size,
      points: sound ? (v['points'] as number) : 1,
      counts: v['counts'] !== false,
      marks,
    });
}

function dates(p: Problems, at: string, v: Json): void {
  for (const key of ['due', 'closes']) if (has(v, key)) moment(p, pointer(at, key), v[key]);
}

function noteGroup(names: TreeNames, at: string, v: Json, parent: Json | null): void {
  const above = typeof parent?.['id'] === 'string' ? parent['id'] : null;
  if (typeof v['id'] !== 'string' || names.groups.has(v['id'])) return;
  names.groups.set(v['id'], { at, parent: above, groups: [], alsos: [] });
  if (above !== null) names.groups.get(above)?.groups.push(v['id']);
}
