import { type CellChange, type EntryContent, changeCell } from './change';
/** What may be other for one student than the rules say, in one cell (contract, section 2). */
export const CELL_EXCEPTIONS = [
  'excused',
  'missing',
  'awaiting',
  'extension',
  'allowance',
  'waiver',
  'set',
  'protected',
] as const;
export type CellException = (typeof CELL_EXCEPTIONS)[number];

/** Those, and the two that hold for a student in the whole book. */
export type ExceptionKind = CellException | 'extra-time' | 'override';
export const EXCEPTION_KINDS: readonly ExceptionKind[] = [...CELL_EXCEPTIONS, 'extra-time', 'override'];

/** The exceptions that a cell's content holds, in the order of {@link CELL_EXCEPTIONS}. */
export function exceptionsIn(content: EntryContent): CellException[] {
  const has: Record<CellException, boolean> = {
    excused: content.state === 'excused',
    missing: content.state === 'missing',
    awaiting: content.state === 'awaiting',
    extension: content.dueAt !== undefined || content.closesAt !== undefined,
    allowance: content.lateAllowances !== undefined,
    waiver: content.attempts?.some((a) => a.onTime === true) === true,
    set: content.set !== undefined,
    protected: content.protected === true,
  };
  return CELL_EXCEPTIONS.filter((kind) => has[kind]);
}

/** What a cell holds once one of its exceptions is ended. Scores, marks and receipts stay as they are. */
export function withoutException(content: EntryContent, kind: CellException): EntryContent {
  switch (kind) {
    case 'excused':
    case 'missing':
    case 'awaiting':
      return content.state === kind ? changeCell(content, { kind: 'state', state: null }) : content;
    case 'extension':
      return changeCell(content, { kind: 'dates', dueAt: null, closesAt: null });
    case 'allowance':
      return changeCell(content, { kind: 'allowances', count: 0 });
    case 'set':
      return changeCell(content, { kind: 'set', points: null });
    case 'protected':
      return changeCell(content, { kind: 'protect', on: false });
    case 'waiver': {
      const attempts = (content.attempts ?? []).map(({ onTime: _waived, ...a }) => a);
      return changeCell(content, { kind: 'put', entry: { ...content, attempts } });
    }
  }
}

/** Whether a change makes an exception that the content before it did not have, or another one of its kind. */
export function makesException(was: EntryContent, change: CellChange): boolean {
  const is = changeCell(was, change);
  const before = new Set(exceptionsIn(was));
  return exceptionsIn(is).some(
    (kind) =>
      !before.has(kind) ||
      (kind === 'extension' && (is.dueAt !== was.dueAt || is.closesAt !== was.closesAt)) ||
      (kind === 'allowance' && is.lateAllowances !== was.lateAllowances) ||
      (kind === 'set' && is.set !== was.set),
  );
}
