import { fraction, fromNumber, multiply, percent } from '../exact/fraction';
import { roundedText } from '../exact/rounding';
import type { Attempt, BookDocument, Entry, StatedState } from './document';

/**
 * What a person does to one cell. `score` in points (at most four decimals), `percent` of the item's points, `mark` a
 * named mark; `late` says how late work on paper was; `set` is a score that stands as it is (contract, section 2);
 * `attempt` is one more attempt with its score, beside those that are there.
 */
export type CellChange =
  | { kind: 'score'; points: number }
  | { kind: 'mark'; label: string }
  | { kind: 'attempt'; made: { score: number } | { mark: string } }
  | { kind: 'clear' }
  | { kind: 'state'; state: StatedState | null }
  | { kind: 'received'; at: string }
  | { kind: 'late'; units: number }
  | { kind: 'late-at'; receivedAt: string }
  | { kind: 'on-time'; waived: boolean }
  | { kind: 'due'; dueAt: string | null }
  | { kind: 'dates'; dueAt: string | null; closesAt: string | null }
  | { kind: 'allowances'; count: number }
  | { kind: 'set'; points: number | null }
  | { kind: 'protect'; on: boolean }
  | { kind: 'put'; entry: EntryContent };

/** An entry without its place: what a cell holds. */
export type EntryContent = Omit<Entry, 'student' | 'item' | 'info'>;

/** A typed operation on a book: the one way in which a book changes (server, worker, trial, undo). */
export type Change =
  { kind: 'cell'; student: string; item: string; is: EntryContent } | { kind: 'rules'; is: RulesPart };

/** The part of a document that the rules page changes. The tree's groups, with items by id in their places. */
export type RulesPart = Pick<BookDocument, (typeof RULE_KEYS)[number]>;

/** What of a document are its rules. */
export const RULE_KEYS = [
  'closing',
  'lateAllowanceHours',
  'blank',
  'late',
  'scale',
  'rounding',
  'hurdles',
  'variants',
  'shown',
  'rules',
  'tree',
] as const satisfies readonly (keyof BookDocument)[];

const tidy = (content: EntryContent): EntryContent => {
  const out: EntryContent = { ...content };
  for (const key of Object.keys(out) as (keyof EntryContent)[]) if (out[key] === undefined) delete out[key];
  if (out.attempts?.length === 0) delete out.attempts;
  return out;
};

/** True where the cell holds nothing at all. */
export const isEmpty = (content: EntryContent): boolean => Object.keys(tidy(content)).length === 0;

/**
 * What a cell holds after a change (states.md). Typing a score marks the latest attempt, making one where there is
 * none, and ends `excused` and `missing`; clearing takes the score away, never the receipt.
 */
export function changeCell(content: EntryContent, change: CellChange): EntryContent {
  const attempts = (content.attempts ?? []).map((a) => ({ ...a }));
  const last = attempts[attempts.length - 1];
  const marked = (put: Pick<Attempt, 'score' | 'mark'>): EntryContent => {
    const kept = { ...(last ?? {}) };
    delete kept.score;
    delete kept.mark;
    const next = [...attempts.slice(0, -1), { ...kept, ...put }];
    return tidy({ ...content, state: undefined, set: undefined, attempts: next });
  };
  const lastWith = (put: Partial<Attempt>, without: (keyof Attempt)[]): EntryContent => {
    const kept: Attempt = { ...(last ?? {}), ...put };
    for (const key of without) delete kept[key];
    return tidy({ ...content, attempts: [...attempts.slice(0, -1), kept] });
  };
  switch (change.kind) {
    case 'score':
      return marked({ score: change.points });
    case 'mark':
      return marked({ mark: change.label });
    case 'attempt':
      return tidy({ ...content, state: undefined, set: undefined, attempts: [...attempts, change.made] });
    case 'clear': {
      if (last && (last.score !== undefined || last.mark !== undefined)) {
        delete last.score;
        delete last.mark;
        const bare = last.receivedAt === undefined && last.lateUnits === undefined;
        return tidy({
          ...content,
          state: undefined,
          set: undefined,
          attempts: bare ? attempts.slice(0, -1) : attempts,
        });
      }
      return tidy({ ...content, state: undefined, set: undefined });
    }
    case 'state':
      return tidy({ ...content, state: change.state ?? undefined });
    case 'received':
      return tidy({
        ...content,
        state: content.state === 'excused' ? 'excused' : undefined,
        attempts: [...attempts, { receivedAt: change.at }],
      });
    case 'late':
      return lastWith({ lateUnits: change.units }, ['onTime']);
    case 'late-at':
      return lastWith({ receivedAt: change.receivedAt }, ['onTime', 'lateUnits']);
    case 'on-time':
      return change.waived ? lastWith({ onTime: true }, []) : lastWith({}, ['onTime']);
    case 'due':
      return tidy({ ...content, dueAt: change.dueAt ?? undefined });
    case 'dates':
      return tidy({ ...content, dueAt: change.dueAt ?? undefined, closesAt: change.closesAt ?? undefined });
    case 'allowances':
      return tidy({ ...content, lateAllowances: change.count === 0 ? undefined : change.count });
    case 'set':
      return tidy({ ...content, set: change.points ?? undefined });
    case 'protect':
      return tidy({ ...content, protected: change.on ? true : undefined });
    case 'put':
      return tidy(change.entry);
  }
}

/** A book with one change made. Pure: the given book is not touched. Unknown students or items leave it as it is. */
export function apply(book: BookDocument, change: Change): BookDocument {
  if (change.kind === 'rules') {
    const rest = Object.entries(book).filter(([key]) => !(RULE_KEYS as readonly string[]).includes(key));
    return { ...(Object.fromEntries(rest) as unknown as BookDocument), ...change.is };
  }
  const { student, item, is } = change;
  const at = book.entries.findIndex((e) => e.student === student && e.item === item);
  const entries = [...book.entries];
  if (isEmpty(is)) {
    if (at >= 0) entries.splice(at, 1);
  } else if (at >= 0) entries[at] = { student, item, ...is };
  else entries.push({ student, item, ...is });
  return { ...book, entries };
}

/** p % of the points, half-up to four decimals (states.md). */
export function percentOfPoints(p: number, points: number): number {
  return Number(roundedText(multiply(percent(p), fromNumber(points)), 4, 'half-up'));
}

/** a / b of the points, half-up to four decimals; b is not 0. */
export function shareOfPoints(a: number, b: number, points: number): number {
  const share = multiply(multiply(fromNumber(a), fraction(fromNumber(b).d, fromNumber(b).n)), fromNumber(points));
  return Number(roundedText(share, 4, 'half-up'));
}

/** What a document's entry holds, without its place. */
export function contentOf(entry: Entry | undefined): EntryContent {
  if (!entry) return {};
  const { student: _s, item: _i, info: _n, ...content } = entry;
  return content;
}
