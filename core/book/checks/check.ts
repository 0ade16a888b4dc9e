import { isTimeZone } from '../../time/local-days';
import { ROUNDINGS } from './check-group-rules';
import { checkHurdles } from './check-hurdles';
import { checkRules, type RuleNames } from './check-rules';
import { checkVariants } from './check-variants';
import { checkEntries } from './check-entries';
import { checkTree, known, noNames, type TreeNames } from './check-tree';
import type { BookDocument } from '../document';
import { Problems, type Problem } from './problems';
import { boolean, choice, has, id, isObject, line, list, moment, number, object, text, type Json } from './shapes';

export type Checked = { ok: true; book: BookDocument } | { ok: false; problems: Problem[]; more: number };

/** A document's text at most, in bytes of UTF-8 (contract, section 1). */
export const LARGEST = 128 * 1024 * 1024;

/**
 * Students × (items + groups) at most. The contract sets no bound, but a document within 128 MiB can name millions of
 * each, and nobody could work out or hold what they multiply to (decision 006).
 */
export const MOST_CELLS = 50_000_000;

const KEYS =
  'format timeZone asOf closing lateAllowanceHours rules blank late scale rounding tree hurdles variants shown students entries overrides';
const REQUIRED = ['format', 'timeZone', 'asOf', 'blank', 'rounding', 'tree', 'students', 'entries'];

/** Reads the text of a document and checks it. Nothing is thrown: what is not JSON is a problem too. */
export function readBook(source: string): Checked {
  if (isTooLarge(source)) return refused('', TOO_LARGE);
  let value: unknown;
  try {
    value = JSON.parse(source);
  } catch (error) {
    return refused('', `This is not JSON: ${(error as Error).message}`);
  }
  return checkBook(value);
}

export const TOO_LARGE = 'The document is larger than 128 MiB.';

function isTooLarge(source: string): boolean {
  if (source.length > LARGEST) return true;
  // A character of UTF-16 takes at most three bytes of UTF-8.
  if (source.length * 3 <= LARGEST) return false;
  let bytes = source.length;
  for (let i = 0; i < source.length; i++) {
    const c = source.charCodeAt(i);
    // The two halves of a pair are four bytes together, any other at or above 0x800 three.
    if (c >= 0x80) bytes += c < 0x800 || (c >= 0xd800 && c <= 0xdfff) ? 1 : 2;
  }
  return bytes > LARGEST;
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
      if (has(rounding, 'mode')) choice(p, '/rounding/mode', rounding['mode'], ROUNDINGS);
    }
    const tree: TreeNames = has(v, 'tree') ? checkTree(p, '/tree', v['tree'], rules) : noNames();
    if (has(v, 'hurdles')) checkHurdles(p, v['hurdles'], tree, lettersOf(v, rules));
    const variants = checkVariants(p, v['variants'], tree, rules, isObject(v['tree']) ? v['tree']['id'] : undefined);
    if (has(v, 'shown')) checkShown(p, v['shown']);
    const students = checkStudents(p, v['students'], variants);
    if (has(v, 'entries')) checkEntries(p, v['entries'], students, tree);
    if (has(v, 'overrides')) checkOverrides(p, v['overrides'], students);
    if (students.size * tree.ids.size > MOST_CELLS)
      p.add(
        '/students',
        `${students.size} students × ${tree.ids.size} items and groups are too many to work out in one book: at most ${MOST_CELLS}.`,
      );
  }
  return p.none ? { ok: true, book: v as unknown as BookDocument } : { ok: false, problems: p.listed, more: p.more };
}

/** Section 8: the final percentage once more, on another scale. */
export function checkShown(p: Problems, v: unknown): void {
  const required = ['through', 'decimals', 'mode'];
  if (!object(p, '/shown', v, [...required, 'step', 'label'], required)) return;
  if (has(v, 'through')) line(p, '/shown/through', v['through']);
  const sound = has(v, 'decimals') && number(p, '/shown/decimals', v['decimals'], { whole: true, most: 4 });
  if (has(v, 'mode')) choice(p, '/shown/mode', v['mode'], ROUNDINGS);
  if (has(v, 'label')) text(p, '/shown/label', v['label']);
  if (!has(v, 'step') || !number(p, '/shown/step', v['step'], { above: 0 }) || !sound) return;
  const unit = 10 ** (v['decimals'] as number);
  if (Math.round(v['step'] * unit) / unit !== v['step'])
    p.add('/shown/step', `A step of ${v['step']} has more decimals than are written.`);
}

/** The labels of the book's scale and of every variant's. */
function lettersOf(v: Json, rules: RuleNames): Set<string> {
  const variants = isObject(v['variants']) ? Object.entries(v['variants']) : [];
  const scales = [v['scale'], ...variants.flatMap(([name, of]) => (name !== 'info' && isObject(of) ? [of['scale']] : []))]; // prettier-ignore
  return new Set(scales.flatMap((name) => [...(rules.scales.get(name as string) ?? [])]));
}

/** Gives the students by their number. */
function checkStudents(p: Problems, v: unknown, variants: ReadonlySet<string>): Map<string, number> {
  const ids = new Map<string, number>();
  if (v === undefined || !list(p, '/students', v)) return ids;
  v.forEach((student, i) => {
    const at = `/students/${i}`;
    if (!object(p, at, student, ['id', 'section', 'extraTimeHours', 'variant'], ['id'])) return;
    if (has(student, 'id') && id(p, `${at}/id`, student['id'])) {
      if (ids.has(student['id'])) p.add(`${at}/id`, `The id "${student['id']}" is there twice.`);
      else ids.set(student['id'], ids.size);
    }
    if (has(student, 'section')) id(p, `${at}/section`, student['section']);
    if (has(student, 'variant')) known(p, `${at}/variant`, student['variant'], variants, 'variant');
    if (has(student, 'extraTimeHours')) number(p, `${at}/extraTimeHours`, student['extraTimeHours'], { most: 10_000 });
  });
  return ids;
}

function checkOverrides(p: Problems, v: unknown, students: ReadonlyMap<string, number>): void {
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
