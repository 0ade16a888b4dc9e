import { TestBed } from '@angular/core/testing';
import type { EntryState } from '@contract/scores';
import type { LiveEvent } from '@contract/presence';
import { Api } from '../api';
import { BookAnnotations } from '../annotations';
import { BookStore } from '../book';
import { StatusBar } from '../../ui/layout/status-bar';
import { Live } from './live';

/** What the browser would open; events are put into it by hand. */
class Source {
  static all: Source[] = [];
  onmessage: ((m: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  closed = false;
  readonly url: string;
  constructor(url: string) {
    this.url = url.replace(/&window=[\w-]+$/, '');
    Source.all.push(this);
  }
  addEventListener(): void {
    // No sign of life is given here.
  }
  close(): void {
    this.closed = true;
  }
  tell(event: LiveEvent): void {
    this.onmessage!({ data: JSON.stringify(event) });
  }
}

const cell = (enrolment: string, version: number): EntryState => ({
  assessment: 'moss',
  enrolment,
  version,
  entry: { attempts: [{ score: 5 }] },
  releaseState: 0,
  seq: 9,
});

describe('what others do in the open book', () => {
  let live: Live;
  let sent: { path: string; body: unknown }[];
  let taken: EntryState[][];
  let reloaded: number;
  let news: (states: EntryState[]) => EntryState[];
  let noted: unknown[];
  /** So many tellings to come are lost. */
  let lost: number;
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal('EventSource', Source);
    vi.stubGlobal('navigator', { ...navigator, locks: undefined });
    Source.all = [];
    sent = [];
    taken = [];
    noted = [];
    reloaded = 0;
    lost = 0;
    news = (states) => states;
    const store = {
      takeOver: async (states: EntryState[]) => {
        taken.push(states);
        return news(states);
      },
      reload: async () => void reloaded++,
      people: () => new Map([['s1', { family: 'Adler' }]]),
      assessments: () => new Map([['moss', { title: 'Moss' }]]),
    };
    const beside = {
      noteChanged: (c: unknown) => noted.push(c),
      put: (r: unknown) => noted.push(r),
      load: async () => {},
    };
    const api = {
      person: () => 'me',
      send: async (_m: string, path: string, body: unknown) => {
        sent.push({ path, body });
        if (lost-- > 0) throw new Error('lost');
      },
    };
    TestBed.configureTestingModule({
      providers: [
        { provide: Api, useValue: api },
        { provide: BookStore, useValue: store },
        { provide: BookAnnotations, useValue: beside },
      ],
    });
    live = TestBed.inject(Live);
  });
  afterEach(() => {
    live.leave();
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  const settle = (): Promise<unknown> => vi.advanceTimersByTimeAsync(0);

  it('is followed from the line that the sheet was loaded at, on one connection', () => {
    live.follow('fens', 7);
    live.follow('fens', 7);
    expect(Source.all.map((s) => s.url)).toEqual(['/api/v1/events?book=fens:7']);
    live.follow('soil', 2);
    expect(Source.all[0]!.closed).toBe(true);
    expect(Source.all[1]!.url).toBe('/api/v1/events?book=soil:2');
    live.leave();
    expect(Source.all[1]!.closed).toBe(true);
  });

  it('goes on from the last line heard after a refusal, a while later', async () => {
    live.follow('fens', 7);
    const first = Source.all[0]!;
    first.tell({ kind: 'cells', book: 'fens', seq: 12, cells: [cell('s1', 2)], by: ['S. Marker'] });
    await settle();
    first.onerror!();
    expect([Source.all.length, first.closed]).toEqual([1, true]);
    await vi.advanceTimersByTimeAsync(1_500);
    expect(Source.all[1]!.url).toBe('/api/v1/events?book=fens:12');
  });

  it('says who changed what, of what was news here alone', async () => {
    live.follow('fens', 7);
    news = (states) => states.slice(0, 1);
    const cells = [cell('s1', 2), cell('s2', 3)];
    Source.all[0]!.tell({ kind: 'cells', book: 'fens', seq: 9, cells, by: ['S. Marker', 'S. Teacher'] });
    await settle();
    expect(TestBed.inject(StatusBar).message()).toBe('S. Marker changed Adler, Moss.');
    expect(noted).toEqual([[cells[0]]]);
    TestBed.inject(StatusBar).announce('');
    // One's own changes are told of too, and are no news.
    news = (states) => states;
    Source.all[0]!.tell({ kind: 'cells', book: 'fens', seq: 10, cells, by: ['', ''] });
    await settle();
    expect([TestBed.inject(StatusBar).message(), noted.length]).toEqual(['', 1]);
    news = () => [];
    Source.all[0]!.tell({ kind: 'cells', book: 'fens', seq: 10, cells, by: ['S. Teacher', 'S. Teacher'] });
    await settle();
    expect(TestBed.inject(StatusBar).message()).toBe('');
  });

  it('loads the book anew where more than cells was changed', async () => {
    live.follow('fens', 7);
    Source.all[0]!.tell({ kind: 'book', book: 'fens', seq: 9, what: ['rules'] });
    await settle();
    expect(reloaded).toBe(1);
    Source.all[0]!.tell({ kind: 'book', book: 'fens', seq: 10, what: [] });
    await settle();
    expect(reloaded).toBe(2);
    // A group stands beside the sheet.
    Source.all[0]!.tell({ kind: 'beside', book: 'fens', seq: 11, what: ['group'] });
    await settle();
    expect(reloaded).toBe(2);
  });

  it('tells where one is once there is a connection, and again only when one has moved', async () => {
    live.follow('fens', 7);
    live.at('s1', 'moss');
    await vi.advanceTimersByTimeAsync(700);
    expect(sent).toEqual([]);
    Source.all[0]!.tell({ kind: 'hello', book: 'fens', connection: 'c-1', seq: 7 });
    await settle();
    const here = { path: '/books/fens/place', body: { connection: 'c-1', enrolment: 's1', assessment: 'moss' } };
    expect(sent).toEqual([here]);
    live.at('s1', 'moss');
    await vi.advanceTimersByTimeAsync(700);
    expect(sent).toHaveLength(1);
    live.at('s2', 'moss');
    live.at('s2', null);
    await vi.advanceTimersByTimeAsync(700);
    expect(sent.slice(1).map((s) => s.body)).toEqual([{ connection: 'c-1', enrolment: 's2', assessment: null }]);
  });

  it('tells where one is again where the telling was lost, and to a connection that is new', async () => {
    live.follow('fens', 7);
    live.at('s1', 'moss');
    lost = 2;
    Source.all[0]!.tell({ kind: 'hello', book: 'fens', connection: 'c-1', seq: 7 });
    await settle();
    expect(sent).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(2_000);
    expect(sent).toHaveLength(2);
    await vi.advanceTimersByTimeAsync(3_900);
    expect(sent).toHaveLength(2);
    await vi.advanceTimersByTimeAsync(100);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(sent).toHaveLength(3);
    Source.all[0]!.tell({ kind: 'hello', book: 'fens', connection: 'c-1', seq: 8 });
    await settle();
    expect(sent).toHaveLength(3);
    Source.all[0]!.tell({ kind: 'hello', book: 'fens', connection: 'c-2', seq: 9 });
    await settle();
    expect(sent[3]!.body).toEqual({ connection: 'c-2', enrolment: 's1', assessment: 'moss' });
    // Who moves on before that is told of at once.
    lost = 1;
    live.at('s2', 'moss');
    await vi.advanceTimersByTimeAsync(600);
    live.at('s3', 'moss');
    await vi.advanceTimersByTimeAsync(600);
    expect(sent.slice(4).map((s) => (s.body as { enrolment: string }).enrolment)).toEqual(['s2', 's3']);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(sent).toHaveLength(6);
  });

  it('asks again for a book that was refused, and follows no other meanwhile', async () => {
    live.follow('fens', 7);
    Source.all[0]!.tell({ kind: 'people', book: 'fens', people: [{ connection: 'c', name: 'S. M', enrolment: null, assessment: null }] }); // prettier-ignore
    await settle();
    expect(live.people()).toHaveLength(1);
    Source.all[0]!.tell({ kind: 'gone', book: 'fens' });
    await settle();
    expect([live.people().length, Source.all[0]!.closed]).toEqual([0, true]);
    await vi.advanceTimersByTimeAsync(29_000);
    expect(Source.all).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(1_000);
    expect(Source.all[1]!.url).toBe('/api/v1/events?book=fens:7');
  });

  it('holds no connection while nobody looks at the page', () => {
    live.follow('fens', 7);
    const hidden = vi.spyOn(document, 'hidden', 'get').mockReturnValue(true);
    document.dispatchEvent(new Event('visibilitychange'));
    expect(Source.all[0]!.closed).toBe(true);
    hidden.mockReturnValue(false);
    document.dispatchEvent(new Event('visibilitychange'));
    expect(Source.all).toHaveLength(2);
    hidden.mockRestore();
  });
});
