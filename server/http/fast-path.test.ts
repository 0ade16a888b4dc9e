import { request as rawRequest } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { operation } from '../testing/person';
import { testSchool, type TestSchool } from '../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

describe('the two ways in', () => {
  const path = (): string => `/books/fens/entries/reed/${school.benId}`;
  /** Sends bytes in pieces, as no browser does. */
  const inPieces = (
    pieces: string[],
    headers: Record<string, string> = {},
    at = path(),
  ): Promise<{ status: number; text: string; headers: object }> =>
    new Promise((done, failed) => {
      const { hostname, port } = new URL(school.address);
      const r = rawRequest(
        {
          hostname,
          port,
          path: `/api/v1${at}`,
          method: 'PUT',
          headers: {
            'content-type': 'application/json',
            cookie: school.teacher.cookie,
            'x-last-tally-token': school.teacher.token,
            ...headers,
          },
        },
        (answer) => {
          let text = '';
          answer.setEncoding('utf8').on('data', (d: string) => (text += d));
          answer.on('end', () => done({ status: answer.statusCode!, text, headers: answer.headers }));
        },
      );
      r.on('error', failed);
      for (const piece of pieces) r.write(piece);
      r.end();
    });
  /** The version of the cell that was seen. */
  let version = 0;
  const body = (points: number): string =>
    JSON.stringify({
      operation: operation(),
      version,
      change: { kind: 'score', points },
    });
  const kept = (a: { status: number; text: string }): unknown => {
    expect([a.status, a.text]).toEqual([200, a.text]);
    const state = JSON.parse(a.text) as { version: number; entry: unknown };
    version = state.version;
    return state.entry;
  };

  it('keep the same and answer with the same headers', async () => {
    const length = (text: string) => ({ 'content-length': String(Buffer.byteLength(text)) });
    const one = body(4);
    const straight = await inPieces([one.slice(0, 20), one.slice(20)], length(one));
    expect(kept(straight)).toMatchObject({ attempts: [{ score: 4 }] });
    const two = body(5);
    const chunked = await inPieces([two.slice(0, 20), two.slice(20)]);
    expect(kept(chunked)).toMatchObject({ attempts: [{ score: 5 }] });
    const three = body(6);
    const encoded = await inPieces([three], length(three), path().replace('reed', '%72eed'));
    expect(kept(encoded)).toMatchObject({ attempts: [{ score: 6 }] });
    const names = (a: { headers: object }) => Object.keys(a.headers).sort();
    expect(names(straight)).toEqual(names(chunked));
    expect(straight.headers).toMatchObject({
      'cache-control': 'no-store',
      'content-security-policy': expect.stringContaining("default-src 'none'") as string,
      'x-content-type-options': 'nosniff',
    });
  });

  it.each([
    ['no JSON', '{"operation":'],
    ['a bare number', '12'],
    ['nothing of a change', '{}'],
    ['another alphabet’s bytes', '\ud800'],
  ])('refuse %s in the same words', async (_what, text) => {
    const straight = await inPieces([text], { 'content-length': String(Buffer.byteLength(text)) });
    const other = await inPieces([text]);
    expect([straight.status, straight.text]).toEqual([other.status, other.text]);
    expect(straight.status).toBe(400);
    expect(JSON.parse(straight.text)).toMatchObject({
      code: 'bad-request',
      detail: expect.stringMatching(/Nothing was changed/) as string,
    });
  });

  it('refuse what is far too long', async () => {
    const long = JSON.stringify({ operation: 'x'.repeat(200_000) });
    expect((await inPieces([long], { 'content-length': String(long.length) })).status).toBe(413);
    expect((await inPieces([long])).status).toBe(413);
  });

  it('let nobody in who is not signed in', async () => {
    const text = body(1);
    const length = { 'content-length': String(Buffer.byteLength(text)) };
    const session = school.teacher.cookie.split('; ').find((c) => c.startsWith('last-tally='))!;
    for (const cookie of ['', 'last-tally=s%3Amade-up.signature', session.slice(0, -2)]) {
      const straight = await inPieces([text], { ...length, cookie });
      const other = await inPieces([text], { cookie });
      expect([straight.status, straight.text]).toEqual([401, other.text]);
    }
  });
});
