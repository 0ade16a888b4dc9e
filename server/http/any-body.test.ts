import fc from 'fast-check';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { newOperation } from '@contract/wire/operation';
import { allRoutes } from '../routes';
import { journalKinds } from '../journal-kinds';
import { Live } from '../modules/presence';
import { verifyJournals } from '../kernel/journal/seals';
import { validationErrors } from './validate';
import { HandingIn } from '../testing/hand-in';
import { bodiesOf, ODD } from '../testing/body-arbitraries';
import { misformattedLines } from '../testing/journal-formats';
import { loginOf, unopened } from '../testing/open-everything';
import { Person } from '../testing/person';
import { PASSWORD, testSchool, type TestSchool } from '../testing/school';

/** Bodies for each way in; more in `npm run test:long`. */
const EACH = process.env['LONG'] ? 45 : 8;
/** The ways in are tried in so many parts, each on a school of its own, so that its book stays of a size to open. */
const PARTS_OF_ALL = 2;
const SEED = 20_261_125;

let school: TestSchool;
beforeEach(async () => {
  school = await testSchool();
  const handing = new HandingIn(school);
  handedInFor = await handing.assessment();
  handedIn = (await handing.handIn(handedInFor)).id;
});
afterEach(() => school.close());

/** The assessment that work was handed in for. */
let handedInFor: string;
/** A piece of work that was handed in, and an id that a mark may have. */
let handedIn: string;
const MARK = '01890a5d-ac96-774b-bcce-b302099a8057';

const PARTS: Record<string, (ids: readonly string[]) => readonly string[]> = {
  book: () => ['fens'],
  assessment: () => ['moss', handedInFor, 'reed', 'test', handedInFor, 'nothing', '__proto__'],
  enrolment: (ids) => [...ids.filter((i) => i.startsWith('s-')), 's-nobody'],
  login: () => ['marker', 'stranger', 'nobody', 'ada'],
  group: () => ['work', 'tests', 'nothing'],
  place: () => ['moss', 'reed', 'whole', '-'],
  section: () => ['north', 'south'],
  submission: () => [handedIn, 'nothing'],
  work: () => [handedIn, handedIn, 'nothing'],
  mark: () => [MARK, MARK, 'x'],
};

const parts = Array.from({ length: PARTS_OF_ALL }, (_, part) => ({ part: part + 1 }));

it.each(parts)(
  'answers whatever its schemas take with what was done or with a sentence, and never breaks: part $part',
  async ({ part }) => {
    const ids = [
      'moss',
      'reed',
      'test',
      'work',
      'tests',
      'all',
      'north',
      'autumn',
      'fens',
      school.adaId,
      school.benId,
      'typed',
    ];
    const people = new Map<string, Person>();
    const as = async (login: string): Promise<Person> => {
      const known = people.get(login);
      // Somebody may just have been signed out by what was sent.
      if (known && (await known.send('GET', '/session')).status === 200) return known;
      const person = await Person.signedIn(school.address, login, PASSWORD);
      people.set(login, person);
      return person;
    };
    const broken: string[] = [];
    const done = new Set<string>();
    const live = new Live(journalKinds, null as never, '', () => undefined);
    const routes = allRoutes(school.pool, live, () => undefined);
    for (const [index, route] of routes.entries()) {
      if (index % PARTS_OF_ALL !== part - 1) continue;
      if (route.method === 'get' || route.path === '/setup' || route.path.startsWith('/session')) continue;
      // Whoever is sent away or put out by one of these is back for the next.
      await school.pool.query(`update book set archived_at = null`);
      await school.pool.query(`update person set active = true`);
      const person = await as(loginOf(route));
      const parts = [...route.path.matchAll(/\{(\w+)\}/g)].map((m) => fc.constantFrom(...(PARTS[m[1]!]?.(ids) ?? ids)));
      const asked = fc.sample(
        fc.tuple(route.body ? bodiesOf(route.body, ids) : fc.constant(undefined), fc.tuple(...parts)),
        {
          numRuns: EACH,
          seed: SEED,
        },
      );
      for (const [body, values] of asked) {
        // What the generator makes is what the schema takes, or nothing would be tried here.
        if (route.body) expect([route.path, validationErrors(route.body, body)]).toEqual([route.path, []]);
        const left = [...values];
        const path = route.path.replace(/\{\w+\}/g, () => encodeURIComponent(left.shift()!));
        const answer = await person.send<{ detail?: string }>(route.method, path, body);
        const name = `${route.method} ${route.path}`;
        if (answer.status < 300) {
          done.add(name);
          // Whatever was taken in, everything opens after it.
          if (route.path === '/settings') continue;
          for (const page of await unopened(routes, as))
            broken.push(`after ${name} ${path} ${JSON.stringify(body ?? null).slice(0, 500)}: ${page}`);
        } else if (answer.status >= 500 || (route.method !== 'head' && !answer.body.detail))
          broken.push(`${name}: ${answer.status} for ${path} ${JSON.stringify(body).slice(0, 300)}`);
      }
    }
    expect(broken).toEqual([]);
    // Most of it was done, so what was tried is more than the door.
    expect(done.size).toBeGreaterThan(25 / PARTS_OF_ALL);
    const teacher = await as('teacher');
    expect((await teacher.send('GET', '/books/fens/sheet')).status).toBe(200);
    expect((await teacher.send('GET', '/books/fens/journal')).status).toBe(200);
    const journals = await verifyJournals(school.pool);
    expect(journals.length).toBeGreaterThan(0);
    expect(journals.flatMap((j) => j.faults)).toEqual([]);
    expect(await misformattedLines(school.pool)).toEqual([]);
  },
  600_000,
);

it('answers whatever address is asked for with what is there or with a sentence', async () => {
  // Half a character cannot stand in an address.
  const ids = ['moss', 'fens', school.adaId, 'nothing', ...ODD.filter((t) => t !== '\ud800')];
  const words = fc.record(
    Object.fromEntries(
      ['after', 'at', 'from', 'to', 'before', 'words', 'student', 'assessment', 'kind', 'person', 'seq'].map((name) => [
        name,
        fc.constantFrom(...ids, '-1', '0', '1', '99999999999999999999', '2026-11-24T09:00:00Z', '9999-12-31', 'cell'),
      ]),
    ),
    { requiredKeys: [] },
  );
  const broken: string[] = [];
  let found = 0;
  const people = new Map<string, Person>();
  for (const login of ['teacher', 'ada', 'office'])
    people.set(login, await Person.signedIn(school.address, login, PASSWORD));
  const live = new Live(journalKinds, null as never, '', () => undefined);
  for (const route of allRoutes(school.pool, live, () => undefined)) {
    if (route.method !== 'get') continue;
    const person = people.get(loginOf(route))!;
    const parts = [...route.path.matchAll(/\{(\w+)\}/g)].map(() => fc.constantFrom(...ids.filter((i) => i !== '')));
    for (const [values, query] of fc.sample(fc.tuple(fc.tuple(...parts), words), { numRuns: EACH, seed: SEED })) {
      const left = values.map((v) => encodeURIComponent(v));
      // Mostly the book that is there: nothing of another is looked at.
      const path = route.path.replace('{book}', 'fens').replace(/\{\w+\}/g, () => left.pop() ?? 'fens');
      const pairs = (Object.entries(query) as [string, string][]).map(([k, v]) => `${k}=${encodeURIComponent(v)}`);
      const answer = await person.send<{ detail?: string }>('GET', `${path}?${pairs.join('&')}`);
      if (answer.status < 300) found++;
      else if (answer.status >= 500 || !answer.body.detail)
        broken.push(`${answer.status} for ${path}?${pairs.join('&')}`);
    }
  }
  expect(broken).toEqual([]);
  expect(found).toBeGreaterThan(100);
}, 600_000);

it('keeps no text with a character that the database cannot hold, and says where it is', async () => {
  const teacher = await Person.signedIn(school.address, 'teacher', PASSWORD);
  const path = `/books/fens/entries/moss/${school.benId}`;
  const write = { operation: newOperation(), version: 99, change: { kind: 'score', points: 1 } };
  for (const reason of ['a\u0000b', 'half \ud800 of one']) {
    const answer = await teacher.send<{ detail: string; errors: unknown }>('PUT', path, { ...write, reason });
    expect([answer.status, answer.body.detail, answer.body.errors]).toEqual([
      400,
      'What was sent cannot be used (/reason: a character in it cannot be kept). Nothing was changed.',
      [{ pointer: '/reason', detail: 'a character in it cannot be kept' }],
    ]);
  }
  // What only looks like one is a text as any other.
  const title = 'C:\\u0000 and \u00e9';
  await teacher.must('PATCH', '/books/fens', { operation: newOperation(), title });
  expect(await teacher.must('GET', '/books/fens')).toMatchObject({ title });
});
