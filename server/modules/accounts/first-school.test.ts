import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Person } from '../../testing/person';
import { PASSWORD } from '../../testing/school';
import { testServer, type TestServer } from '../../testing/server';
import { offerSetup } from './first-school';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.close());

const body = {
  code: 'code',
  school: { id: 'tarn', title: 'Tarn School', timeZone: 'Europe/Dublin' },
  administrator: { login: 'una', family: 'Office', given: 'Una', password: PASSWORD },
  term: { id: 'autumn', title: 'Autumn 2026', starts: '2026-09-01', ends: '2026-12-20' },
};
const setUp = (more: object = {}) => new Person(server.address).send('POST', '/setup', { ...body, ...more });
const count = async (table: 'school' | 'person' | 'term' | 'setup_code'): Promise<number> =>
  (await server.pool.query(`select 1 from ${table}`)).rowCount!;

describe('the first school', () => {
  it('is not made without the code, by another, or with a clock of somebody’s own', async () => {
    expect((await setUp({ code: '' })).body['code']).toBe('not-allowed');
    expect((await setUp({ code: 'another code' })).body['code']).toBe('not-allowed');
    const clock = await setUp({ school: { ...body.school, fixedNow: '2020-01-01T00:00:00Z' } });
    expect(clock.body['code']).toBe('bad-request');
    expect(await new Person(server.address).send('GET', '/session')).toMatchObject({
      body: { me: null, hasSchool: false },
    });
    expect(await count('school')).toBe(0);
  });

  it('is not half made where its term or its time zone cannot be', async () => {
    const backwards = await setUp({ term: { ...body.term, ends: '2026-01-01' } });
    expect(backwards.body['detail']).toMatch(/ends before it starts/);
    const zone = await setUp({ school: { ...body.school, timeZone: 'Atlantis/North' } });
    expect(zone.body['detail']).toMatch(/no time zone/);
    expect([await count('school'), await count('person'), await count('setup_code')]).toEqual([0, 0, 1]);
  });

  it('is made once, with its administrator and term, by the code of any server of the database', async () => {
    // Another server of the same database prints a code of its own; strokes and case are the reader's.
    await offerSetup(server.pool, 'k7f2-9mqd');
    const both = await Promise.all([setUp({ code: 'K7F2 9MQD' }), setUp()]);
    expect(both.map((a) => a.status).sort()).toEqual([200, 409]);
    expect([await count('school'), await count('person'), await count('term'), await count('setup_code')]).toEqual([
      1, 1, 1, 0,
    ]);
    expect((await setUp()).body['code']).toBe('already-there');
    await offerSetup(server.pool, 'later');
    expect(await count('setup_code')).toBe(0);
    const una = await Person.signedIn(server.address, 'una', PASSWORD);
    expect((await una.send<{ terms: { title: string }[] }>('GET', '/books')).body.terms).toMatchObject([
      { title: 'Autumn 2026' },
    ]);
  });
});
