import { readdirSync, readFileSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import type { Page } from '@playwright/test';
import { bareRules } from '../core/testing/bare-book';
import { groupsOf, itemsOf, type BookDocument, type ResultDocument } from '../core/book/document';
import { toNumber, parse } from '../core/exact/fraction';
import { expect, type Tally } from './tally';

const EXAMPLES = new URL('../core/testing/examples/', import.meta.url);
const PASSWORD = 'long-enough-1';
export const BOOK = 'example';

/** The worked examples that can be worked out, by name. */
export const exampleNames = (): string[] =>
  readdirSync(EXAMPLES)
    .filter((f) => f.endsWith('.result.json'))
    .map((f) => f.replace('.result.json', ''));

const read = <T>(name: string): T => JSON.parse(readFileSync(new URL(name, EXAMPLES), 'utf8')) as T;
export const exampleBook = (name: string): BookDocument => read<BookDocument>(`${name}.book.json`);
export const exampleFile = (name: string): string => new URL(`${name}.book.json`, EXAMPLES).pathname;

/** A school at the example's moment with its book, people and bare assessments; what is said later is said by the rules. */
export async function makeExample(page: Page, tally: Tally, book: BookDocument): Promise<ExampleSchool> {
  const school = new ExampleSchool(page, tally, book);
  await school.make();
  return school;
}

export class ExampleSchool {
  private token = '';
  private readonly ids = new Map<string, string>();

  constructor(
    private readonly page: Page,
    private readonly tally: Tally,
    private readonly book: BookDocument,
  ) {}

  private async send<T>(method: string, path: string, data: object): Promise<T> {
    const answer = await this.page.request.fetch(`${this.tally.address}/api/v1${path}`, {
      method,
      data,
      headers: { 'x-last-tally-token': this.token },
    });
    if (!answer.ok()) throw new Error(`${method} ${path}: ${await answer.text()}`);
    return (await answer.json()) as T;
  }

  private async signIn(login: string): Promise<void> {
    this.token = (await this.send<{ token: string }>('POST', '/session', { login, password: PASSWORD })).token;
  }

  async make(): Promise<void> {
    const { book } = this;
    const person = (login: string, number: string, role: string) => ({
      ...{ login, family: login, given: '', number, mail: '', role, password: PASSWORD },
    });
    await this.send('POST', '/setup', {
      code: 'e2e',
      school: { id: 'tarn', title: 'Tarn School', timeZone: book.timeZone },
      administrator: { login: 'office', family: 'Office', given: '', password: PASSWORD },
      term: { id: 'term', title: 'Term', starts: '2026-09-01', ends: '2027-06-30' },
    });
    await this.tally.setClock(book.asOf);
    await this.signIn('office');
    const students = book.students.map((s) => person(s.id, s.id, 'student'));
    await this.send('POST', '/people', { people: [person('keeper', '', 'staff'), ...students] });
    const sections = [...new Set(book.students.flatMap((s) => (s.section ? [s.section] : [])))];
    await this.send('POST', '/books', {
      id: BOOK,
      term: 'term',
      title: 'Example',
      sections: sections.map((id) => ({ id, title: id })),
      staff: [{ login: 'keeper', role: 'teacher' }],
      rules: bareRules(book),
    });
    const { enrolments } = await this.send<{ enrolments: { id: string; number: string }[] }>(
      'POST',
      `/books/${BOOK}/enrolments`,
      {
        students: book.students.map((s) => ({
          number: s.id,
          section: s.section ?? null,
          extraTimeHours: s.extraTimeHours ?? 0,
        })),
      },
    );
    for (const e of enrolments) this.ids.set(e.number, e.id);
    await this.signIn('keeper');
    for (const g of groupsOf(book.tree))
      for (const item of g.children)
        if (item.type === 'item')
          await this.send('POST', `/books/${BOOK}/assessments`, {
            operation: randomUUID(),
            id: item.id,
            title: item.id,
            category: g.id,
            points: item.points,
            due: item.due ?? null,
            closes: item.closes ?? null,
            takesWork: false,
            more: item.sectionDates ? { sectionDates: item.sectionDates } : {},
          });
  }

  /** What each student has, and the overrides: as the example says. */
  async enterWork(): Promise<void> {
    for (const { student, item, info: _i, ...entry } of this.book.entries)
      await this.send('PUT', `/books/${BOOK}/entries/${item}/${this.ids.get(student)!}`, {
        operation: randomUUID(),
        version: 0,
        change: { kind: 'put', entry },
      });
    for (const { student, percent, letter, reason } of this.book.overrides ?? [])
      await this.send('PUT', `/books/${BOOK}/overrides/${this.ids.get(student)!}`, {
        operation: randomUUID(),
        version: 0,
        percent: percent ?? null,
        letter: letter ?? null,
        until: null,
        reason: reason ?? '',
      });
  }

  /** Every figure that the ledger and the closing page show is the example's. */
  async expectResult(name: string): Promise<void> {
    const result = read<ResultDocument>(`${name}.result.json`);
    const { page, tally } = this;
    await tally.navigate(page, `/book/${BOOK}/ledger`);
    const points = new Map(itemsOf(this.book.tree).map((i) => [i.id, i]));
    for (const s of result.students) {
      const row = page.locator('.row').filter({ has: page.locator('.name b', { hasText: new RegExp(`^${s.id}$`) }) });
      await expect(row.locator('.standing b')).toHaveText(s.percent ?? '–');
      await expect(row.locator('.standing strong')).toHaveText(s.letter ?? '');
      for (const i of s.items) {
        const head = page.locator('.title').filter({ has: page.locator('b', { hasText: new RegExp(`^${i.id}$`) }) });
        const column = Number((await head.getAttribute('id'))!.replace('head-', '')) + 2;
        const cell = row.locator(`[role=gridcell][aria-colindex="${column}"]`);
        const scored = i.state === 'scored' || i.state === 'set';
        expect(points.has(i.id)).toBe(true);
        if (scored) {
          const hundredths = (Math.round(toNumber(parse(i.earned!)) * 100) / 100).toFixed(2).replace(/0$/, '');
          await expect(cell).toContainText(hundredths);
        }
        if (i.dropped) await expect(cell).toHaveClass(/dropped/);
        else await expect(cell).not.toHaveClass(/dropped/);
      }
    }
    await tally.navigate(page, `/book/${BOOK}/closing`);
    for (const s of result.students) {
      const row = page.locator('tbody tr').filter({ has: page.locator('b', { hasText: new RegExp(`^${s.id}$`) }) });
      await expect(row).toContainText(s.percent ?? 'no grade yet');
      if (s.low !== s.high) await expect(row).toContainText(`${s.low} – ${s.high}`);
    }
  }
}

/** Signs in as the teacher of the example and opens its rules. */
export async function openRules(page: Page, tally: Tally): Promise<void> {
  await tally.navigate(page, `/book/${BOOK}/rules`);
  await expect(page.locator('lt-rule-sentence').first()).toBeVisible();
}
