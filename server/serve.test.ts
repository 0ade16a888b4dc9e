import { connect, type Socket } from 'node:net';
import { pino } from 'pino';
import { describe, expect, it } from 'vitest';
import { readConfig } from './kernel/config';
import { serve } from './serve';
import { testServer } from './testing/server';

/** A line to a server, and all that came over it so far. */
async function openLine(port: number): Promise<{ socket: Socket; heard(what: RegExp): Promise<string> }> {
  const socket = connect(port, '127.0.0.1');
  let text = '';
  const heard = (what: RegExp): Promise<string> =>
    new Promise((done, failed) => {
      const look = (): void => void (what.test(text) && done(text));
      socket.on('data', look).on('close', () => failed(new Error(`closed after: ${text}`)));
      look();
    });
  socket.on('data', (d) => (text += String(d)));
  await new Promise((done) => socket.once('connect', done));
  return { socket, heard };
}

/** A server without jobs, on a database of its own. */
async function startServing() {
  const { databaseUrl, close } = await testServer();
  const config = { ...readConfig({ DATABASE_URL: databaseUrl, SESSION_SECRET: 'lines' }), port: 0 };
  const noJobs = { start: () => undefined, stop: async () => undefined };
  return { served: await serve(config, pino({ level: 'silent' }), () => noJobs), close };
}

describe('A server’s line', () => {
  it('is kept longer than a proxy keeps it, so that no request goes over one as it is closed', async () => {
    const { served, close } = await startServing();
    const { socket, heard } = await openLine(served.port);
    socket.write('GET /api/v1/session HTTP/1.1\r\nhost: x\r\n\r\n');
    const seconds = /keep-alive: timeout=(\d+)/i.exec(await heard(/keep-alive: timeout/i))![1];
    expect(Number(seconds)).toBeGreaterThan(60);
    await served.end(60_000);
    await close();
  });

  it('gets its answer while the server ends, and is closed then, so that the end comes soon', async () => {
    const { served, close } = await startServing();
    const { socket, heard } = await openLine(served.port);
    const body = JSON.stringify({ login: 'nobody', password: 'nothing' });
    const head = [
      'host: x',
      'content-type: application/json',
      'expect: 100-continue',
      `content-length: ${body.length}`,
    ];
    socket.write(`POST /api/v1/session HTTP/1.1\r\n${head.join('\r\n')}\r\n\r\n`);
    await heard(/100 Continue/);
    const ended = served.end(600_000);
    socket.write(body);
    expect(await heard(/\}$/)).toContain('HTTP/1.1 4');
    await ended;
    await close();
  }, 30_000);
});
