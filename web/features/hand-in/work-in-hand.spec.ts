import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { StudentAssessment, Submission } from '@contract/work/submissions';
import { Api, ApiProblem } from '../../data/api';
import { Uploads } from '../../data/work/uploads';
import { WorkInHand } from './work-in-hand';

const begun = (version: number, typed: string): Submission => ({
  ...{ id: 'w', state: 'begun', version, typed, link: '', files: [], statement: null, receipt: null, attempt: null },
  ...{ begunAt: '2026-11-24T08:00:00Z', handedInAt: null },
});
const page = (now: Submission | null, before: Submission[] = []): StudentAssessment => ({
  ...{ book: 'fens', bookTitle: 'Fens', timeZone: 'UTC', asOf: '2026-11-24T09:00:00Z', id: 'pit', title: 'Pit' },
  ...{
    points: 20,
    takesWork: true,
    settings: {},
    due: null,
    closes: null,
    late: [],
    shut: '',
    left: false,
    again: null,
    instructions: null,
    handouts: [],
    attemptsLeft: 1,
  },
  ...{ begun: now, before },
});

describe('work that is about to be handed in', () => {
  let work: WorkInHand;
  let sent: { method: string; path: string; body: Record<string, unknown> }[];
  /** What the server has, and what it answers next in place of that. */
  let kept: Submission | null;
  let answers: (() => unknown)[];
  let before: Submission[];
  let shut: string;
  beforeEach(async () => {
    vi.useFakeTimers();
    sessionStorage.clear();
    [sent, kept, answers, before, shut] = [[], null, [], [], ''];
    const api = {
      person: () => 'me',
      get: async () => ({ ...page(kept, before), shut }),
      send: async (method: string, path: string, body: Record<string, unknown>) => {
        sent.push({ method, path, body });
        const answer = answers.shift();
        if (answer) return answer();
        return (kept = begun((kept?.version ?? 0) + 1, String(body['typed'])));
      },
    };
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), Uploads, WorkInHand, { provide: Api, useValue: api }],
    });
    work = TestBed.inject(WorkInHand);
    await open();
  });
  afterEach(() => vi.useRealTimers());
  const settle = (ms = 0): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);
  async function open(): Promise<void> {
    work.place.set({ book: 'fens', assessment: 'pit' });
    TestBed.tick();
    await settle();
  }
  const offline = (): never => {
    throw new ApiProblem('offline', 'no line');
  };

  it('keeps what is typed a moment after the last key, each on the version that the one before left', async () => {
    work.type('One', '');
    work.type('One two', '');
    await settle(700);
    work.type('One two three', '');
    await settle(700);
    expect(sent.map((s) => s.body)).toEqual([
      { version: 0, typed: 'One two', link: '' },
      { version: 1, typed: 'One two three', link: '' },
    ]);
    expect([work.unsent(), work.waits()]).toEqual([false, false]);
  });

  it('tries again by itself while the line is down, and has it after a reload', async () => {
    answers = [offline, offline];
    work.type('Without a line', '');
    await settle(700);
    expect(work.waits()).toBe(true);
    await settle(5_000);
    expect(sent).toHaveLength(2);
    // The page is loaded anew: the words are there, and are sent.
    TestBed.resetTestingModule();
    expect(Object.keys(sessionStorage).some((k) => sessionStorage.getItem(k)!.includes('Without a line'))).toBe(true);
  });

  it('shows both where another window wrote meanwhile, and keeps the one that is chosen', async () => {
    const theirs = begun(4, 'Theirs');
    answers = [
      () => {
        throw new ApiProblem('stale', 'changed', theirs);
      },
    ];
    work.type('Mine', '');
    await settle(700);
    expect([work.theirs(), work.typed()]).toEqual([theirs, 'Mine']);
    work.choose(true);
    await settle(0);
    expect(sent.at(-1)!.body).toEqual({ version: 4, typed: 'Mine', link: '' });
    expect(work.theirs()).toBeNull();
  });

  it('hands in once, as the same, until there is an answer', async () => {
    work.type('All of it', '');
    await settle(700);
    const receipt: Submission = { ...kept!, state: 'handed-in', receipt: 'LT-ABC-DEF', attempt: 1 };
    answers = [offline, offline, () => ((kept = null), (before = [receipt]), { submission: receipt })];
    void work.handIn(null);
    void work.handIn(null);
    await settle(20_000);
    const handIns = sent.filter((s) => s.path.endsWith('/hand-in'));
    expect(handIns).toHaveLength(3);
    expect(new Set(handIns.map((s) => JSON.stringify(s.body))).size).toBe(1);
    expect([work.page()!.before[0]!.receipt, work.begun(), work.typed(), work.busy()]).toEqual(['LT-ABC-DEF', null, '', false]); // prettier-ignore
  });

  it('says why it is not taken in any more, and shows how things stand now; what lies there stays', async () => {
    work.type('Too late', '');
    await settle(700);
    shut = 'closed';
    answers = [
      () => {
        throw new ApiProblem('not-allowed', 'Work was taken in until 12:00.');
      },
    ];
    void work.handIn(null);
    await settle(1_000);
    expect([work.failure(), work.page()!.shut, work.typed(), work.busy()]).toEqual([
      ...['Work was taken in until 12:00.', 'closed', 'Too late', false],
    ]);
  });

  it('leaves out what no text can be kept with', async () => {
    work.type('One\0 two', '');
    await settle(700);
    expect([sent[0]!.body['typed'], work.typed(), work.unsent()]).toEqual(['One two', 'One two', false]);
  });
});
