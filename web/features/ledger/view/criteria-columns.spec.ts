import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Subject } from 'rxjs';
import type { Marking } from '@contract/work/marking';
import { Api } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { LiveStream } from '../../../data/live/live-stream';
import { Outbox } from '../../../data/outbox/outbox';
import { StatusBar } from '../../../ui/layout/status-bar';
import { CriteriaColumns } from './criteria-columns';

const level = (points: number, words: string) => ({ id: `l-${points}`, points, words });
const mark = (criterion: string, points: number | null) => ({
  ...{ criterion, version: 1, by: 'S. Teacher', at: '2026-11-24T09:00:00Z' },
  mark: points === null ? null : { points },
});
const marking = (points: number): Marking => ({
  rubric: {
    ...{ version: 1, by: '', at: null },
    rubric: {
      by: 'points',
      criteria: [
        { id: 'depth', title: 'Depth', stands: 'counts', levels: [level(2, 'shallow'), level(4, 'deep')] },
        { id: 'colour', title: 'Colour', stands: 'counts', levels: [level(6, 'named')] },
      ],
    },
  },
  works: [{ enrolment: 's1', work: 'second' }],
  drafts: [
    { assessment: 'pit', enrolment: 's1', work: 'first', rubric: 1, marks: [mark('depth', 1)] },
    {
      assessment: 'pit',
      enrolment: 's1',
      work: 'second',
      rubric: 1,
      marks: [mark('depth', points), mark('colour', null)],
    },
  ],
});

describe('criteria as columns', () => {
  let asked: { path: string; answer: (m: Marking) => void }[];
  let events: Subject<unknown>;
  const stood = signal<number | null>(null);
  const book = signal('fens');
  let columns: CriteriaColumns;
  const settle = async (): Promise<void> => {
    TestBed.tick();
    await Promise.resolve();
    await Promise.resolve();
  };
  beforeEach(() => {
    asked = [];
    events = new Subject();
    stood.set(null);
    book.set('fens');
    const get = (path: string) => new Promise((answer) => asked.push({ path, answer }));
    TestBed.configureTestingModule({
      providers: [
        CriteriaColumns,
        { provide: Api, useValue: { get } },
        { provide: BookStore, useValue: { id: book, stood, assessments: signal(new Map()) } },
        { provide: LiveStream, useValue: { events } },
        { provide: Outbox, useValue: { drafts: new Subject() } },
        { provide: StatusBar, useValue: { announce: () => undefined } },
      ],
    });
    columns = TestBed.inject(CriteriaColumns);
  });

  it('are those of the assessments that are shown, with what the work in hand was given', async () => {
    await settle();
    expect(asked).toEqual([]);
    columns.shown.set(['pit']);
    await settle();
    expect(asked.map((a) => a.path)).toEqual(['/books/fens/assessments/pit/marking']);
    let kept = 0;
    columns.around = (put) => (kept++, put());
    asked[0]!.answer(marking(3.5));
    await settle();
    expect([columns.of('pit'), columns.of('moss'), kept]).toEqual([['depth', 'colour'], [], 1]);
    expect(columns.text('pit', 'depth', 's1')).toBe('3.5');
    expect(columns.cell('pit', 'depth', 's1')).toMatchObject({ text: '3.5', words: '3.5 of 4' });
    expect(columns.cell('pit', 'colour', 's1')).toMatchObject({ text: '', words: 'not given yet' });
    expect(columns.text('pit', 'depth', 's2')).toBe('');
    // Of the book as it stood at an earlier line nothing is said of levels.
    stood.set(4);
    expect(columns.of('pit')).toEqual([]);
    // Another book may have an assessment of the same id: its own are asked for.
    stood.set(null);
    book.set('bogs');
    await settle();
    expect([columns.of('pit'), columns.text('pit', 'depth', 's1')]).toEqual([[], '']);
    expect(asked.at(-1)!.path).toBe('/books/bogs/assessments/pit/marking');
  });

  it('follow what is told, and an answer that was overtaken changes nothing', async () => {
    vi.useFakeTimers();
    try {
      columns.shown.set(['pit']);
      await settle();
      asked[0]!.answer(marking(2));
      for (const of of [1, 2]) {
        events.next({ kind: 'marking', book: 'fens', places: [] });
        vi.advanceTimersByTime(1_100);
        expect(asked).toHaveLength(1 + of);
      }
      events.next({ kind: 'marking', book: 'bogs', places: [] });
      vi.advanceTimersByTime(1_100);
      expect(asked).toHaveLength(3);
      asked[2]!.answer(marking(4));
      await settle();
      asked[1]!.answer(marking(3));
      await settle();
      expect(columns.text('pit', 'depth', 's1')).toBe('4');
    } finally {
      vi.useRealTimers();
    }
  });
});
