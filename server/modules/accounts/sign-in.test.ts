import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import express from 'express';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { SignInChallenge } from '@contract/accounts';
import { findProof, proofSeed } from '@contract/wire/sign-in-proof';
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
    expect(answer.headers.getSetCookie().map((c) => c.split('=')[0])).toEqual(['last-tally-known', 'last-tally']);
    for (const cookie of answer.headers.getSetCookie()) expect(cookie).toMatch(/HttpOnly.*SameSite=Strict/);
    expect(answer.text).not.toMatch(/argon2|password/i);
  });

  it('says the same of a wrong password and of nobody', async () => {
    const someone = new Person(school.address);
    const wrong = await someone.send('POST', '/session', { login: 'marker', password: 'wrong-wrong' });
    const nobody = await someone.send('POST', '/session', { login: 'nobody-here', password: 'wrong-wrong' });
    expect([wrong.status, wrong.body['detail']]).toEqual([401, nobody.body['detail']]);
  });

  describe('after wrong guesses', () => {
    beforeEach(() => school.pool.query('delete from sign_in_failure'));
    afterAll(() => school.pool.query('delete from sign_in_failure'));
    const guess = (login: string, password: string, proof?: object, who = new Person(school.address)) =>
      who.send<{ code?: string; now?: SignInChallenge }>('POST', '/session', {
        login,
        password,
        ...(proof && { proof }),
      });
    /** The work that the answer asked for, done for a password. */
    const work = ({ challenge, bits }: SignInChallenge, login: string, password: string) => ({
      challenge,
      nonce: findProof(proofSeed(challenge, login, password), bits),
    });
    const wrong = async (login: string, times: number): Promise<number[]> => {
      const statuses = [];
      for (let i = 0; i < times; i++) statuses.push((await guess(login, `wrong-${i}`)).status);
      return statuses;
    };

    it('lets five go by, then asks for work, and keeps nobody out who does it', async () => {
      expect(await wrong('marker', 5)).toEqual([401, 401, 401, 401, 401]);
      const asked = await guess('marker', PASSWORD);
      expect([asked.status, asked.body.code]).toEqual([429, 'slow-down']);
      expect((await guess('marker', PASSWORD, work(asked.body.now!, 'marker', PASSWORD))).status).toBe(200);
      // Guesses are forgotten with the right one.
      expect(await wrong('marker', 1)).toEqual([401]);
    });

    it('asks for twice the work after each further guess, and no proof is worth anything for another password', async () => {
      await wrong('marker', 5);
      const { now } = (await guess('marker', 'guess-1')).body;
      const proof = work(now!, 'marker', 'guess-1');
      expect((await guess('marker', 'guess-1', proof)).status).toBe(401);
      const again = await guess('marker', 'guess-2', proof);
      expect([again.status, again.body.now!.bits]).toEqual([429, now!.bits + 1]);
      // Nor for more work than it was made for, nor where it is no challenge of ours, nor another account's.
      expect((await guess('marker', 'guess-1', proof)).status).toBe(429);
      const forged = { challenge: now!.challenge.replace(/^\d+/, '99999999999999'), bits: now!.bits };
      expect((await guess('marker', PASSWORD, work(forged, 'marker', PASSWORD))).status).toBe(429);
      expect((await guess('marker', PASSWORD, { challenge: 'x', nonce: 1 })).status).toBe(429);
    });

    it('counts before it looks: of many side by side as many are looked at as of some one after the other', async () => {
      const answers = await Promise.all(
        Array.from({ length: 60 }, (_, i) => guess('marker', i === 50 ? PASSWORD : `wrong-${i}`)),
      );
      const statuses = answers.map((a) => a.status);
      expect(statuses.filter((s) => s === 401)).toHaveLength(5);
      expect(statuses.filter((s) => s === 429)).toHaveLength(55);
    });

    it('asks nothing of a browser that the person has used before, and a school behind one address only for work', async () => {
      const own = new Person(school.address);
      expect((await guess('ada', PASSWORD, undefined, own)).status).toBe(200);
      await wrong('ada', 5);
      for (const login of ['ben', 'teacher', 'stranger', 'coteacher']) await wrong(login, 4);
      expect((await guess('ada', PASSWORD, undefined, own)).status).toBe(200);
      const newcomer = await guess('reviewer', PASSWORD);
      expect(newcomer.status).toBe(429);
      const worked = work(newcomer.body.now!, 'reviewer', PASSWORD);
      expect((await guess('reviewer', PASSWORD, worked)).status).toBe(200);
      // Another's browser is none that this person has used.
      expect((await guess('ben', PASSWORD, undefined, own)).status).toBe(429);
    });
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
    // WebAssembly alone may be compiled: decoders of pictures are made of it.
    expect(policy).toMatch(/script-src 'self' 'wasm-unsafe-eval'(;|$)/);
    expect(policy).not.toMatch(/'unsafe/);
    // Answers of the API are no pages: they may load nothing at all.
    expect(await policyOf('/api/v1/health')).toBe("default-src 'none';frame-ancestors 'none'");
    await new Promise((done) => server.close(done));
  });
});
