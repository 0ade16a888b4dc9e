import { checkBook } from '../book/checks/check';
import type { BookDocument, Node } from '../book/document';
import { compileBook } from '../calculation/compiled/compile';
import { standingAt, standingsOf, type Standings } from '../estimate/standings';
import type { Trial } from './compare';
import { differencesOf, type Difference } from './differences';

/**
 * Why a student moves: a difference that alone moves them; `together` where several do so only in company (then all that
 * could concern them).
 */
export interface Cause {
  difference: Difference;
  together: boolean;
}

/** Rules compared one by one at most; with more, those from here on are told as working together. */
const MOST = 40;

/**
 * Puts to every mover of a trial the rules and entries that move them: each difference is made alone in the first book,
 * and whoever then moves is moved by it.
 */
export function findCauses(before: BookDocument, after: BookDocument, trial: Trial): Difference[] {
  const differences = differencesOf(before, after);
  const movers = new Map(trial.movers.map((m) => [m.student, m]));
  for (const m of trial.movers) m.causes = [];
  const own = new Map<string, Difference[]>();
  const general: Difference[] = [];
  for (const d of differences) {
    if (!('student' in d)) general.push(d);
    else if (own.has(d.student)) own.get(d.student)!.push(d);
    else own.set(d.student, [d]);
  }
  const note = (d: Difference, student: string): void =>
    void movers.get(student)?.causes!.push({ difference: d, together: false });
  const was = general.length > 0 ? standingsOf(compileBook(before)) : null;
  for (const d of general.slice(0, MOST)) for (const student of movedBy(before, after, d, was!)) note(d, student);
  for (const [student, list] of own)
    for (const d of list) if (movers.has(student) && movedAlone(before, after, d, student)) note(d, student);
  for (const m of trial.movers)
    if (m.causes!.length === 0)
      m.causes = [...general, ...(own.get(m.student) ?? [])].map((difference) => ({ difference, together: true }));
  return differences;
}

/** Students whose shown percentage or letter a general difference alone changes; none where it cannot stand alone. */
function movedBy(before: BookDocument, after: BookDocument, d: Difference, was: Standings): string[] {
  const alone = makeAlone(before, after, d);
  if (!checkBook(alone).ok) return [];
  const is = standingsOf(compileBook(alone));
  return before.students.flatMap(({ id }, i) => {
    const [a, b] = [standingAt(was, i), standingAt(is, i)];
    return a.percent !== b.percent || a.letter !== b.letter ? [id] : [];
  });
}

function movedAlone(before: BookDocument, after: BookDocument, d: Difference, student: string): boolean {
  const only = (book: BookDocument): BookDocument => ({
    ...book,
    students: book.students.filter((s) => s.id === student),
    entries: book.entries.filter((e) => e.student === student),
    overrides: (book.overrides ?? []).filter((o) => o.student === student),
  });
  const small = only(before);
  return differs(small, makeAlone(small, only(after), d));
}

function differs(before: BookDocument, alone: BookDocument): boolean {
  if (!checkBook(alone).ok) return false;
  const a = standingAt(standingsOf(compileBook(before)), 0);
  const b = standingAt(standingsOf(compileBook(alone)), 0);
  return a.percent !== b.percent || a.letter !== b.letter;
}

/** The first book with one difference made. */
export function makeAlone(before: BookDocument, after: BookDocument, d: Difference): BookDocument {
  switch (d.kind) {
    case 'setting':
      return put(before, d.at, (after as unknown as Record<string, unknown>)[d.at]);
    case 'rule': {
      const rest = Object.entries(before.rules?.[d.set] ?? {}).filter(([name]) => name !== d.name);
      const set = Object.fromEntries(d.is === null ? rest : [...rest, [d.name, d.is]]);
      return { ...before, rules: { ...before.rules, [d.set]: set } };
    }
    case 'node':
      return { ...before, tree: withKey(before.tree, d.id, d.key, d.is) as BookDocument['tree'] };
    case 'tree': {
      const gone = new Set(d.removed);
      return { ...before, tree: after.tree, entries: before.entries.filter((e) => !gone.has(e.item)) };
    }
    case 'student':
      return { ...before, students: before.students.map((s) => (s.id === d.student ? d.is : s)) };
    case 'entry': {
      const rest = before.entries.filter((e) => e.student !== d.student || e.item !== d.item);
      return { ...before, entries: d.is === null ? rest : [...rest, d.is] };
    }
    case 'override': {
      const rest = (before.overrides ?? []).filter((o) => o.student !== d.student);
      return { ...before, overrides: d.is === null ? rest : [...rest, d.is] };
    }
  }
}

function put<T extends object>(o: T, key: string, value: unknown): T {
  const out = { ...o } as Record<string, unknown>;
  if (value === undefined) delete out[key];
  else out[key] = value;
  return out as T;
}

function withKey(node: Node, id: string, key: string, value: unknown): Node {
  if (node.id === id) return put(node, key, value);
  if (node.type !== 'group') return node;
  return { ...node, children: node.children.map((c) => withKey(c, id, key, value)) };
}
