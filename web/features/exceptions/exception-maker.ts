import { counted, formOf } from '@core/words/count';
import type { CellChange, EntryContent } from '@core/book/change';
import { percentOfPoints } from '@core/book/change';
import { shiftDays } from '@core/time/local-days';
import { amountIn } from '../../ui/text/amount';

/** What can be made on the page of exceptions. Two are made of others: a zero that stays, open again. */
export const MADE = [
  { kind: 'excused', label: 'excused', needs: 'nothing' },
  { kind: 'missing', label: 'missing, by hand', needs: 'nothing' },
  { kind: 'awaiting', label: 'still awaited', needs: 'nothing' },
  { kind: 'extension', label: 'own due date', needs: 'day-or-days' },
  { kind: 'open-again', label: 'open again', needs: 'day' },
  { kind: 'allowance', label: 'late allowance', needs: 'count' },
  { kind: 'waiver', label: 'lateness waived', needs: 'nothing' },
  { kind: 'set', label: 'score set', needs: 'score' },
  { kind: 'zero', label: 'zero that stays', needs: 'nothing' },
  { kind: 'protected', label: 'always kept', needs: 'nothing' },
  { kind: 'extra-time', label: 'extra time everywhere', needs: 'hours' },
  { kind: 'override', label: 'final grade set', needs: 'grade' },
] as const;
export type MadeKind = (typeof MADE)[number]['kind'];

/** Those that hold for a student in the whole book. */
export const isWhole = (kind: MadeKind): kind is 'extra-time' | 'override' =>
  kind === 'extra-time' || kind === 'override';

/** Those that can end by themselves on a day. */
export const canEnd = (kind: MadeKind): boolean => !['extension', 'open-again', 'waiver', 'set', 'zero'].includes(kind);

/** One cell that an exception is asked for. `due`: when it is due for the student without an own date; null: never. */
export interface Target {
  student: string;
  item: string;
  points: number;
  due: string | null;
  content: EntryContent;
}

export interface MadeCell {
  student: string;
  item: string;
  change: CellChange;
}
export type Made = { cells: MadeCell[]; left: string } | { message: string };

/** A whole number within bounds, or null. */
export const wholeIn = (text: string, least: number, most: number): number | null =>
  /^\d{1,5}$/.test(text.trim()) && Number(text) >= least && Number(text) <= most ? Number(text) : null;

const count = (n: number): string => counted(n, 'cell has', 'cells have');

/** The change of every cell, with those that are left out and why; or why nothing can be made. `day`: as it was read. */
export function madeOf(
  kind: MadeKind,
  targets: Target[],
  value: { text: string; day: string | null },
  zone: string,
): Made {
  const all = (change: CellChange): Made => ({
    cells: targets.map(({ student, item }) => ({ student, item, change })),
    left: '',
  });
  const some = (pick: (t: Target) => CellChange | null, why: string): Made => {
    const cells = targets.flatMap(({ student, item, ...t }): MadeCell[] => {
      const change = pick({ student, item, ...t });
      return change ? [{ student, item, change }] : [];
    });
    const left = targets.length - cells.length;
    return { cells, left: left === 0 ? '' : `${count(left)} ${why}, and ${formOf(left, 'is', 'are')} left as it is.` };
  };
  switch (kind) {
    case 'excused':
    case 'missing':
    case 'awaiting':
      return all({ kind: 'state', state: kind });
    case 'open-again':
      return value.day === null
        ? { message: 'Say until when it is open, as in 30 Nov 17:00.' }
        : some((t) => ({ kind: 'dates', dueAt: value.day, closesAt: t.content.closesAt ?? null }), '');
    case 'extension': {
      const days = /^\+?\s*(\d{1,3})\s*(d|days?)?$/i.exec(value.text.trim());
      if (days)
        return some(
          (t) =>
            t.due === null && !t.content.dueAt
              ? null
              : {
                  kind: 'dates',
                  dueAt: new Date(
                    shiftDays(zone, Date.parse(t.content.dueAt ?? t.due!), Number(days[1])),
                  ).toISOString(),
                  closesAt: t.content.closesAt ?? null,
                },
          'no due date to count from',
        );
      return value.day === null
        ? { message: 'Say the day, as in 30 Nov 17:00, or how many days more, as in +3.' }
        : some((t) => ({ kind: 'dates', dueAt: value.day, closesAt: t.content.closesAt ?? null }), '');
    }
    case 'allowance': {
      const n = wholeIn(value.text, 1, 1000);
      return n === null ? { message: 'Say how many, from 1 to 1000.' } : all({ kind: 'allowances', count: n });
    }
    case 'waiver':
      return some(
        (t) =>
          t.content.attempts?.length
            ? {
                kind: 'put',
                entry: { ...t.content, attempts: t.content.attempts.map((a) => ({ ...a, onTime: true })) },
              }
            : null,
        'no work whose lateness could be waived',
      );
    case 'set': {
      const percent = /^(.+)%$/.exec(value.text.trim());
      const n = amountIn(percent ? percent[1]! : value.text);
      if (n === null) return { message: 'Say the score in points, as in 14.5, or as a percentage, as in 70%.' };
      return some((t) => ({ kind: 'set', points: percent ? percentOfPoints(n, t.points) : n }), '');
    }
    case 'zero':
      return some((t) => ({ kind: 'put', entry: { ...t.content, set: 0, protected: true } }), '');
    case 'protected':
      return all({ kind: 'protect', on: true });
    case 'extra-time': {
      const n = amountIn(value.text);
      return n === null || n <= 0 || n > 10_000
        ? { message: 'Say how many hours, as in 24.' }
        : { cells: [], left: '' };
    }
    case 'override':
      return value.text.trim() === '' || value.text.trim().length > 20
        ? { message: 'Say a percentage, as in 64.5, or a letter.' }
        : { cells: [], left: '' };
  }
}
