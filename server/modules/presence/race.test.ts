import { afterAll, beforeAll, expect, it } from 'vitest';
import { cellKey } from '@contract/wire/cell-key';
import type { BookAnnotations } from '@contract/annotations';
import type { AssessmentList } from '@contract/assessments';
import type { BookPage, Sheet } from '@contract/books';
import type { EntryState } from '@contract/scores';
import type { LiveEvent } from '@contract/presence';
import { listen, operation, Person, type Told } from '../../testing/person';
import { PASSWORD, RULES, testSchool, type TestSchool } from '../../testing/school';
import { serverBeside, type TestServer } from '../../testing/server';

/** Milliseconds of the race; a minute in `npm run test:long`. */
const LASTS = process.env['LONG'] ? 60_000 : 5_000;

let school: TestSchool;
let second: TestServer;
beforeAll(async () => {
  school = await testSchool();
  second = await serverBeside(school);
});
afterAll(async () => {
  await second.close();
  await school.close();
});

function dice(seed: number): (n: number) => number {
  return (n) => {
    seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((seed / 2 ** 32) * n);
  };
}

/** Somebody with the book open: what their page shows is what they were answered and told. */
class Page {
  readonly cells = new Map<string, { version: number; entry: object }>();
  private stream!: Told<LiveEvent>;
  private heard = 0;

  constructor(readonly who: Person) {}

  async open(): Promise<void> {
    const sheet = await this.who.must<Sheet>('GET', '/books/fens/sheet');
    sheet.document.entries.forEach(({ student, item, ...entry }, i) =>
      this.cells.set(cellKey(student, item), { version: sheet.versions[i]!, entry }),
    );
    this.stream = await listen<LiveEvent>(this.who, `/events?book=fens:${sheet.seq}`);
  }

  /** Takes in what was told since. Where more than cells changed the page is loaded anew. */
  async look(): Promise<void> {
    const news = this.stream.events.slice(this.heard);
    this.heard = this.stream.events.length;
    for (const e of news) if (e.kind === 'cells') for (const c of e.cells) this.take(c);
    if (news.some((e) => e.kind === 'book')) await this.reload();
  }

  async reload(): Promise<void> {
    const sheet = await this.who.must<Sheet>('GET', '/books/fens/sheet');
    const there = new Set<string>();
    sheet.document.entries.forEach(({ student, item, ...entry }, i) => {
      there.add(cellKey(student, item));
      this.take({ enrolment: student, assessment: item, version: sheet.versions[i]!, entry } as EntryState);
    });
  }

  take(c: Pick<EntryState, 'enrolment' | 'assessment' | 'version' | 'entry'>): void {
    const key = cellKey(c.enrolment, c.assessment);
    if (c.version >= (this.cells.get(key)?.version ?? 0)) this.cells.set(key, { version: c.version, entry: c.entry });
  }

  versionOf = (enrolment: string, assessment: string): number =>
    this.cells.get(cellKey(enrolment, assessment))?.version ?? 0;

  close(): void {
    this.stream.close();
  }
}

it('of three people at two servers, with answers that are lost, ends with one book on every page and nothing done twice', async () => {
  const students = [school.adaId, school.benId, school.cleoId];
  const items = ['moss', 'reed', 'test'];
  const signIn = async (address: string, login: string) => new Page(await Person.signedIn(address, login, PASSWORD));
  const pages = [
    await signIn(school.address, 'teacher'),
    await signIn(second.address, 'coteacher'),
    await signIn(second.address, 'marker'),
  ];
  for (const page of pages) await page.open();
  // One who has the book open and reads nothing of what they are told.
  const stalled = await fetch(`${school.address}/api/v1/events?book=fens`, {
    headers: { cookie: school.reviewer.cookie },
  });

  const sent = new Map<string, number>();
  const wrong: string[] = [];
  const until = Date.now() + LASTS;
  let done = 0;
  /** Sends a wish; its answer may be lost, and then the same is sent again, to the same or the other server. */
  const submit = async (page: Page, roll: (n: number) => number, method: string, path: string, body: object) => {
    const wish = { operation: operation(), ...body };
    sent.set(wish.operation, 0);
    for (let tries = 0; ; tries++) {
      const answer = await page.who.send<{ code?: string; cells?: EntryState[] } & Partial<EntryState>>(
        method,
        path,
        wish,
      );
      if (answer.status >= 500) wrong.push(`${method} ${path}: ${answer.status} ${answer.text}`);
      if (answer.body.code === 'operation-used') wrong.push(`${method} ${path}: the same was taken for another`);
      if (tries < 2 && roll(4) === 0) continue;
      if (answer.status < 300) {
        done++;
        // An intake says how many.
        const { cells, entry } = answer.body;
        const states = Array.isArray(cells) ? cells : entry ? [answer.body as EntryState] : [];
        for (const c of states) page.take(c);
      }
      return answer;
    }
  };
  /** A staff note, on the version that is there a moment before: somebody may be quicker. */
  const note = async (page: Page, roll: (n: number) => number, enrolment: string, assessment: string) => {
    const { notes } = await page.who.must<BookAnnotations>('GET', '/books/fens/annotations');
    const now = notes.find((n) => n.enrolment === enrolment && n.place === assessment);
    const body = { version: now?.version ?? 0, note: `seen ${roll(9)}`, secondLook: roll(2) === 0 };
    await submit(page, roll, 'PUT', `/books/fens/staff-notes/${enrolment}/${assessment}`, body);
  };
  const rules = async (page: Page, roll: (n: number) => number) => {
    const { rulesVersion: version } = await page.who.must<BookPage>('GET', '/books/fens');
    const rounding = { decimals: roll(4), mode: 'half-up' as const };
    await submit(page, roll, 'PUT', '/books/fens/rules', { version, reason: 'x', rules: { ...RULES, rounding } });
  };
  const points = async (page: Page, roll: (n: number) => number, assessment: string) => {
    const all = await page.who.must<AssessmentList>('GET', '/books/fens/assessments');
    const { version } = all.find((a) => a.id === assessment)!;
    const body = { version, points: 20 + roll(30), scores: 'keep-points', reason: 'x', tell: null };
    await submit(page, roll, 'PATCH', `/books/fens/assessments/${assessment}`, body);
  };
  const act = async (page: Page, roll: (n: number) => number): Promise<void> => {
    await page.look();
    const [enrolment, assessment] = [students[roll(3)]!, items[roll(3)]!];
    const cell = (e: string, a: string) => ({
      assessment: a,
      enrolment: e,
      version: page.versionOf(e, a),
      change: roll(5) === 0 ? { kind: 'clear' } : { kind: 'score', points: roll(10) },
    });
    const manages = page !== pages[2];
    const { assessment: a, enrolment: e, ...one } = cell(enrolment, assessment);
    const what = roll(manages ? 16 : 9);
    if (what < 5) await submit(page, roll, 'PUT', `/books/fens/entries/${a}/${e}`, one);
    else if (what === 5)
      await submit(page, roll, 'POST', '/books/fens/changes', { kind: 'paste', cells: students.map((s) => cell(s, assessment)) }); // prettier-ignore
    else if (what === 6) await submit(page, roll, 'POST', `/books/fens/${roll(2) ? 'undo' : 'redo'}`, {});
    else if (what === 7)
      await submit(page, roll, 'PUT', `/books/fens/entries/${a}/${e}`, { ...one, change: { kind: 'state', state: 'excused' }, reason: 'ill' }); // prettier-ignore
    else if (what === 8) await note(page, roll, enrolment, assessment);
    else if (what === 9)
      await submit(page, roll, 'POST', '/books/fens/intake', { title: 'file', cells: items.map((i) => cell(enrolment, i)) }); // prettier-ignore
    else if (what === 10)
      await submit(page, roll, 'POST', `/books/fens/${roll(3) ? 'release' : 'withdraw'}`, { assessment, enrolments: roll(2) ? null : [enrolment], moveRules: true }); // prettier-ignore
    else if (what === 11)
      await submit(page, roll, 'PATCH', '/books/fens/enrolments', { enrolments: [enrolment], extraTimeHours: roll(5), reason: 'x' }); // prettier-ignore
    else if (what === 12) await submit(page, roll, 'PATCH', '/books/fens', { title: `Fens ${roll(9)}` });
    else if (what === 13) await rules(page, roll);
    else if (what === 14) await points(page, roll, assessment);
    else
      await submit(page, roll, 'PUT', `/books/fens/overrides/${enrolment}`, { version: roll(3), percent: roll(100), letter: null, reason: 'x', until: null }); // prettier-ignore
  };
  await Promise.all(
    pages.flatMap((page, p) =>
      // Each does two things at once now and then: two tabs, a second click.
      [0, 1].map(async (tab) => {
        const roll = dice(100 * p + tab + 7);
        while (Date.now() < until) await act(page, roll);
      }),
    ),
  );
  expect(wrong).toEqual([]);
  expect(done).toBeGreaterThan(10);

  // Every page comes to show what the book holds, by what it was told.
  const sheetOf = async (path: string) => {
    const { document, versions } = await school.teacher.must<Sheet>('GET', path);
    const rows = document.entries.map(({ student, item, ...entry }, i) => ({ key: cellKey(student, item), version: versions[i]!, entry })); // prettier-ignore
    return rows.sort((x, y) => x.key.localeCompare(y.key));
  };
  const kept = await sheetOf('/books/fens/sheet');
  for (const page of pages)
    await expect
      .poll(
        async () => {
          await page.look();
          return kept.map(({ key }) => ({ key, ...page.cells.get(key) }));
        },
        { timeout: 60_000, interval: 100 },
      )
      .toEqual(kept.map(({ key, version, entry }) => ({ key, version, entry })));
  for (const page of pages) page.close();
  await stalled.body!.cancel();

  // The journal alone gives the same, line after line without a gap.
  const { rows: book } = await school.pool.query<{ seq: number }>(`select seq from book where id = 'fens'`);
  const last = book[0]!.seq;
  const asOf = await sheetOf(`/books/fens/as-of?at=${last}`);
  expect(asOf.map(({ key, entry }) => ({ key, entry }))).toEqual(
    kept.filter((k) => Object.keys(k.entry).length > 0).map(({ key, entry }) => ({ key, entry })),
  );
  const { rows: lines } = await school.pool.query<{ seq: number; operation: string; batch: string; kind: string }>(
    `select seq, operation, batch, kind from journal where book = 'fens' order by seq`,
  );
  expect(lines.map((l) => l.seq)).toEqual(lines.map((_, i) => i + 1));
  // In a minute every act has come to pass.
  if (process.env['LONG'])
    expect([...new Set(lines.map((l) => l.kind))]).toEqual(
      expect.arrayContaining(['enrol', 'assessment', 'cell', 'note', 'release', 'settings', 'rules', 'override']),
    );
  // What was sent several times stands there as one set.
  for (const { operation: id } of lines) {
    const own = id.split('.')[0]!;
    if (sent.has(own) && !id.includes('.')) sent.set(own, sent.get(own)! + 1);
  }
  expect([...sent.values()].filter((n) => n > 1)).toEqual([]);
}, 200_000);
