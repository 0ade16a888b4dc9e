import { isTimeZone } from '../calculation/local-days';
import { checkRules, unique } from './check-rules';
import { checkTree, known, type TreeNames } from './check-tree';
import type { BookDocument } from './document';
import { pointer, Problems, type Problem } from './problems';
import { boolean, choice, has, id, list, moment, number, object, text } from './shapes';

export type Checked = { ok: true; book: BookDocument } | { ok: false; problems: Problem[]; more: number };

/** A document's text at most, in bytes (contract, section 1). */
export const LARGEST = 128 * 1024 * 1024;

const KEYS =
  'format timeZone asOf closing lateAllowanceHours rules blank late scale rounding tree hurdles students entries overrides';
const REQUIRED = ['format', 'timeZone', 'asOf', 'blank', 'rounding', 'tree', 'students', 'entries'];

/** Reads the text of a document and checks it. Nothing is thrown: what is not JSON is a problem too. */
export function readBook(source: string): Checked {
  if (source.length > LARGEST) return refused('', 'The document is larger than 128 MiB.');
  let value: unknown;
  try {
    value = JSON.parse(source);
  } catch (error) {
    return refused('', `This is not JSON: ${(error as Error).message}`);
  }
  return checkBook(value);
}

const refused = (at: string, says: string): Checked => ({ ok: false, problems: [{ at, says }], more: 0 });

/** Checks a document against sections 1 to 8 and lists every problem; the book is worked out only where there is none. */
export function checkBook(v: unknown): Checked {
  const p = new Problems();
  if (object(p, '', v, KEYS.split(' '), REQUIRED)) {
    if (has(v, 'format')) choice(p, '/format', v['format'], ['last-tally.book/1']);
    if (has(v, 'timeZone') && (typeof v['timeZone'] !== 'string' || !isTimeZone(v['timeZone'])))
      p.add('/timeZone', 'This is no time zone name such as Europe/Dublin.');
    if (has(v, 'asOf')) moment(p, '/asOf', v['asOf']);
    if (has(v, 'closing')) boolean(p, '/closing', v['closing']);
    if (has(v, 'lateAllowanceHours')) number(p, '/lateAllowanceHours', v['lateAllowanceHours'], { most: 10_000 });
    const rules = checkRules(p, '/rules', v['rules']);
    if (has(v, 'blank')) known(p, '/blank', v['blank'], rules.blank, 'blank rule');
    if (has(v, 'late') && v['late'] !== null) known(p, '/late', v['late'], rules.late, 'late rule');
    if (has(v, 'scale') && v['scale'] !== null) known(p, '/scale', v['scale'], rules.scales, 'scale');
    if (has(v, 'rounding') && object(p, '/rounding', v['rounding'], ['decimals', 'mode'], ['decimals', 'mode'])) {
      const rounding = v['rounding'];
      if (has(rounding, 'decimals')) number(p, '/rounding/decimals', rounding['decimals'], { whole: true, most: 4 });
      if (has(rounding, 'mode')) choice(p, '/rounding/mode', rounding['mode'], ['half-up', 'half-even', 'down']);
    }
    const tree: TreeNames = has(v, 'tree')
      ? checkTree(p, '/tree', v['tree'], rules)
      : { ids: new Set(), items: new Map() };
    if (has(v, 'hurdles')) checkHurdles(p, v['hurdles'], tree);
    const students = checkStudents(p, v['students']);
    if (has(v, 'entries')) checkEntries(p, v['entries'], students, tree);
    if (has(v, 'overrides')) checkOverrides(p, v['overrides'], students);
  }
  return p.none ? { ok: true, book: v as unknown as BookDocument } : { ok: false, problems: p.listed, more: p.more };
}

function checkHurdles(p: Problems, v: unknown, tree: TreeNames): void {
  if (!list(p, '/hurdles', v)) return;
  v.forEach((hurdle, i) => {
    const at = `/hurdles/${i}`;
    if (!object(p, at, hurdle, ['node', 'atLeast', 'capAt'], ['node', 'atLeast', 'capAt'])) return;
    for (const key of ['atLeast', 'capAt']) if (has(hurdle, key)) number(p, pointer(at, key), hurdle[key]);
    if (!has(hurdle, 'node') || !known(p, pointer(at, 'node'), hurdle['node'], tree.ids, 'group or item')) return;
    if (tree.items.get(hurdle['node'] as string)?.points === 0)
      p.add(pointer(at, 'node'), 'An item of 0 points cannot be a hurdle.');
  });
}

function checkStudents(p: Problems, v: unknown): Set<string> {
  const ids = new Set<string>();
  if (v === undefined || !list(p, '/students', v)) return ids;
  v.forEach((student, i) => {
    const at = `/students/${i}`;
    if (!object(p, at, student, ['id', 'section', 'extraTimeHours'], ['id'])) return;
    if (has(student, 'id') && id(p, `${at}/id`, student['id'])) unique(p, `${at}/id`, ids, student['id'], 'id');
    if (has(student, 'section')) id(p, `${at}/section`, student['section']);
    if (has(student, 'extraTimeHours')) number(p, `${at}/extraTimeHours`, student['extraTimeHours'], { most: 10_000 });
  });
  return ids;
}

const ENTRY = ['student', 'item', 'state', 'attempts', 'dueAt', 'closesAt', 'lateAllowances', 'set', 'protected'];

function checkEntries(p: Problems, v: unknown, students: Set<string>, tree: TreeNames): void {
  if (!list(p, '/entries', v)) return;
  const seen = new Map<string, Set<string>>();
  v.forEach((entry, i) => {
    const at = `/entries/${i}`;
    if (!object(p, at, entry, ENTRY, ['student', 'item'])) return;
    const student = has(entry, 'student') && known(p, `${at}/student`, entry['student'], students, 'student');
    const item = has(entry, 'item') && known(p, `${at}/item`, entry['item'], tree.items, 'item');
    if (student && item) {
      let items = seen.get(entry['student'] as string);
      if (!items) seen.set(entry['student'] as string, (items = new Set()));
      if (items.has(entry['item'] as string)) p.add(at, 'This student has another entry for the same item.');
      items.add(entry['item'] as string);
    }
    if (has(entry, 'state')) choice(p, `${at}/state`, entry['state'], ['excused', 'missing', 'awaiting']);
    for (const key of ['dueAt', 'closesAt']) if (has(entry, key)) moment(p, `${at}/${key}`, entry[key]);
    if (has(entry, 'lateAllowances'))
      number(p, `${at}/lateAllowances`, entry['lateAllowances'], { whole: true, most: 1000 });
    if (has(entry, 'set')) number(p, `${at}/set`, entry['set']);
    if (has(entry, 'protected')) boolean(p, `${at}/protected`, entry['protected']);
    if (has(entry, 'attempts') && list(p, `${at}/attempts`, entry['attempts']))
      entry['attempts'].forEach((attempt, j) =>
        checkAttempt(
          p,
          `${at}/attempts/${j}`,
          attempt,
          item ? tree.items.get(entry['item'] as string)!.marks : undefined,
        ),
      );
  });
}

/** `marks`: the labels of the item, null where it has none, undefined where the item is not known. */
function checkAttempt(p: Problems, at: string, v: unknown, marks: Set<string> | null | undefined): void {
  if (!object(p, at, v, ['score', 'mark', 'receivedAt', 'onTime', 'lateUnits'])) return;
  if (has(v, 'score') && has(v, 'mark')) p.add(at, 'An attempt has either a score or a mark, not both.');
  if (has(v, 'score')) number(p, `${at}/score`, v['score']);
  if (has(v, 'mark') && marks !== undefined) {
    if (marks === null) p.add(`${at}/mark`, 'This item has no named marks.');
    else known(p, `${at}/mark`, v['mark'], marks, 'mark');
  } else if (has(v, 'mark')) text(p, `${at}/mark`, v['mark']);
  if (has(v, 'receivedAt')) moment(p, `${at}/receivedAt`, v['receivedAt']);
  if (has(v, 'onTime')) boolean(p, `${at}/onTime`, v['onTime']);
  if (has(v, 'lateUnits')) number(p, `${at}/lateUnits`, v['lateUnits'], { whole: true });
}

function checkOverrides(p: Problems, v: unknown, students: Set<string>): void {
  if (!list(p, '/overrides', v)) return;
  const seen = new Set<string>();
  v.forEach((override, i) => {
    const at = `/overrides/${i}`;
    if (!object(p, at, override, ['student', 'percent', 'letter', 'reason'], ['student'])) return;
    if (has(override, 'student') && known(p, `${at}/student`, override['student'], students, 'student')) {
      if (seen.has(override['student'] as string)) p.add(at, 'This student has another override.');
      seen.add(override['student'] as string);
    }
    if (!has(override, 'percent') && !has(override, 'letter')) p.add(at, 'An override needs a percent or a letter.');
    if (has(override, 'percent')) number(p, `${at}/percent`, override['percent']);
    for (const key of ['letter', 'reason']) if (has(override, key)) text(p, `${at}/${key}`, override[key]);
  });
}
