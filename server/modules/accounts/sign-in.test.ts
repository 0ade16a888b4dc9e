import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { guard } from '../../http/pages';
import { Person } from '../../testing/person';
import { PASSWORD, testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

describe('signing in', () => {
  it('gives a cookie that scripts and other sites cannot use', async () => {
    const answer = await new Person(school.address).send('POST', '/session', {
      login: ' Teacher ',
      password: PASSWORD,
    });
    expect(answer.status).toBe(200);
    expect(answer.headers.getSetCookie()[0]).toMatch(/HttpOnly.*SameSite=Strict/);
    expect(answer.text).not.toMatch(/argon2|password/i);
  });

  it('says the same of a wrong password and of nobody, and stops after ten failures of an account', async () => {
    const someone = new Person(school.address);
    const wrong = await someone.send('POST', '/session', { login: 'marker', password: 'wrong-wrong' });
    const nobody = await someone.send('POST', '/session', { login: 'nobody-here', password: 'wrong-wrong' });
    expect([wrong.status, wrong.body['detail']]).toEqual([401, nobody.body['detail']]);
    for (let i = 0; i < 9; i++) await someone.send('POST', '/session', { login: 'marker', password: 'wrong-wrong' });
    const stopped = await someone.send('POST', '/session', { login: 'marker', password: PASSWORD });
    expect([stopped.status, stopped.body['code']]).toEqual([429, 'slow-down']);
    expect((await someone.send('POST', '/session', { login: 'stranger', password: PASSWORD })).status).toBe(200);
  });

  it('ends with signing out: the same cookie is worth nothing', async () => {
    const person = await Person.signedIn(school.address, 'coteacher', PASSWORD);
    const cookie = person.cookie;
    expect((await person.send('DELETE', '/session')).status).toBe(200);
    person.cookie = cookie;
    expect((await person.send('GET', '/desk')).status).toBe(401);
  });

  it('takes no change without the session’s token, or from another site', async () => {
    const write = { operation: 'op-00000001', showsStanding: true };
    const noToken = await school.teacher.send('PATCH', '/books/fens', write, { 'x-last-tally-token': '' });
    const otherToken = await school.teacher.send('PATCH', '/books/fens', write, {
      'x-last-tally-token': school.coTeacher.token,
    });
    const otherSite = await school.teacher.send('PATCH', '/books/fens', write, { 'sec-fetch-site': 'cross-site' });
    expect([noToken, otherToken, otherSite].map((a) => a.body['code'])).toEqual([
      'not-genuine',
      'not-genuine',
      'not-genuine',
    ]);
    const login = await new Person(school.address).send(
      'POST',
      '/session',
      { login: 'teacher', password: PASSWORD },
      { 'sec-fetch-site': 'cross-site' },
    );
    expect(login.status).toBe(403);
  });

  it('sends a strict content policy', async () => {
    const app = express();
    guard(app, '/api/v1', false);
    app.get('/{*any}', (_request, response) => void response.send(''));
    const server = await new Promise<Server>((done) => {
      const s = app.listen(0, '127.0.0.1', () => done(s));
    });
    const policyOf = async (path: string): Promise<string> =>
      (await fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}${path}`)).headers.get(
        'content-security-policy',
      ) ?? '';
    const policy = await policyOf('/desk');
    expect(policy).toMatch(/default-src 'none'/);
    expect(policy).toMatch(/script-src 'self'(;|$)/);
    expect(policy).not.toMatch(/unsafe/);
    // Answers of the API are no pages: they may load nothing at all.
    expect(await policyOf('/api/v1/health')).toBe("default-src 'none';frame-ancestors 'none'");
    await new Promise((done) => server.close(done));
  });
});
