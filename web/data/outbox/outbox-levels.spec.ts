import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { LevelDraft, LevelsWrite } from '@contract/work/marking';
import { Api, ApiProblem } from '../api';
import { Outbox } from './outbox';
import { soon } from '../../testing/soon';

/** A server that keeps marks with a version for each criterion. */
class FakeApi {
  readonly person = signal('');
  readonly token = signal('');
  down = false;
  readonly marks = new Map<string, { version: number; points: number }>();
  cell = 0;
  rubric = 1;
  readonly got: LevelsWrite[] = [];

  async get() {
    return { me: null };
  }

  private now(work: string): { draft: LevelDraft; cell: object } {
    const marks = [...this.marks].map(([criterion, m]) => ({
      ...{ criterion, version: m.version, mark: { points: m.points }, by: 'T.', at: '2026-11-24T09:00:00Z' },
    }));
    return {
      draft: { assessment: 'moss', enrolment: 's1', work, rubric: this.rubric, marks },
      cell: { assessment: 'moss', enrolment: 's1', version: this.cell, entry: {}, releaseState: 0, seq: 1 },
    };
  }

  async send(_method: string, path: string, body: LevelsWrite): Promise<unknown> {
    if (this.down) throw new ApiProblem('offline', 'no line');
    expect(path).toBe('/books/fens/levels/moss/s1');
    const stale = body.marks.some((m) => (this.marks.get(m.criterion)?.version ?? 0) !== m.version);
    if (stale || body.rubric !== this.rubric) throw new ApiProblem('stale', 'somebody else', this.now(body.work));
    this.got.push(body);
    for (const m of body.marks) this.marks.set(m.criterion, { version: m.version + 1, points: (m.mark as { points: number }).points }); // prettier-ignore
    this.cell++;
    return this.now(body.work);
  }
}

let api: FakeApi;
let outbox: Outbox;
let n = 0;
const drafts: string[] = [];
const give = (criterion: string, points: number, version = 0, rubric = 1) =>
  outbox.put({
    operation: `op-levels-${++n}`,
    book: 'fens',
    kind: 'change',
    levels: { work: 'hand-1', rubric, marks: [{ criterion, version, mark: { points } }] },
    cells: [{ student: 's1', item: 'moss', version: 0, change: { kind: 'score', points }, typed: criterion }],
  });

beforeEach(async () => {
  api = new FakeApi();
  drafts.length = 0;
  TestBed.resetTestingModule();
  TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
  outbox = TestBed.inject(Outbox);
  api.person.set(`levels-${++n}`);
  await outbox.open(`levels-${n}`, 'fens', () => undefined);
  outbox.drafts.subscribe(({ draft }) => drafts.push(draft.marks.map((m) => `${m.criterion}${m.version}`).join(' ')));
});

describe('levels in the outbox', () => {
  it('go one after the other with the cell that they move, each on one’s own version before', async () => {
    api.down = true;
    await Promise.all([give('a', 1), give('a', 2), give('b', 3)]);
    expect(outbox.levelsOf('s1', 'moss', 'hand-1').map((l) => l.marks[0]!.criterion)).toEqual(['a', 'a', 'b']);
    expect(outbox.levelsOf('s1', 'moss', 'hand-2')).toEqual([]);
    api.down = false;
    outbox.tryNow();
    await soon(() => expect(outbox.count()).toBe(0));
    expect(api.got.map((g) => [g.marks[0]!.version, g.cell])).toEqual([[0, 0], [1, 1], [0, 2]]); // prettier-ignore
    expect(drafts.at(-1)).toBe('a2 b1');
  });

  it('wait while the line is down', async () => {
    api.down = true;
    await give('a', 4);
    await soon(() => expect(outbox.line()).toBe('down'));
    expect(outbox.count()).toBe(1);
    api.down = false;
    outbox.tryNow();
    await soon(() => expect(api.marks.get('a')).toEqual({ version: 1, points: 4 }));
  });

  it('of a criterion that somebody else gave are a choice: theirs, or one’s own over it', async () => {
    api.marks.set('a', { version: 5, points: 2 });
    await give('a', 4);
    await soon(() => expect(outbox.troubles().size).toBe(1));
    expect([...outbox.troubles().values()][0]).toMatchObject({ kind: 'clash', message: 'somebody else' });
    expect(drafts).toEqual(['a5']);
    await outbox.insist('s1', 'moss');
    await soon(() => expect(api.marks.get('a')).toEqual({ version: 6, points: 4 }));
    await give('a', 1, 5);
    await soon(() => expect(outbox.count()).toBe(0));
    expect(api.marks.get('a')).toEqual({ version: 7, points: 1 });
    api.marks.set('a', { version: 9, points: 3 });
    await give('a', 2, 7);
    await soon(() => expect(outbox.troubles().size).toBe(1));
    await outbox.drop('s1', 'moss');
    expect([outbox.count(), outbox.troubles().size, api.marks.get('a')!.points]).toEqual([0, 0, 3]);
  });

  it('insisted on where nothing of theirs is another’s put the sum in the place of a typed score', async () => {
    const send = api.send.bind(api);
    api.send = async (method, path, body) => {
      if (body.sum === undefined) throw new ApiProblem('stale', 'typed', { ...(await send(method, path, { ...body, marks: [] }) as object) }); // prettier-ignore
      return send(method, path, body);
    };
    await give('a', 4);
    await soon(() => expect(outbox.troubles().size).toBe(1));
    await outbox.insist('s1', 'moss');
    await soon(() => expect(outbox.count()).toBe(0));
    expect(api.got.at(-1)).toMatchObject({ sum: 'follow', marks: [{ criterion: 'a', version: 0 }] });
  });
});
