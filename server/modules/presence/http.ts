import { every } from '../../kernel/timers';
import type { Request, Response } from 'express';
import { PlaceWrite, LiveEvent, OwnEvent } from '@contract/presence';
import type { Live } from './live';
import type { Follower } from './watchers';
import { Refusal } from '../../kernel/refusal';
import * as visits from './sql';
import { EventStream } from '../../http/event-stream';
import { route, type Route } from '../../http/route';
import { sessionIdOf } from '../../http/sessions';
import { Done } from '@contract/wire';

/** Milliseconds between two signs of life on a stream, so that nothing between takes it for dead. */
const SIGN_EVERY = 20_000;

/** Books that one stream follows at most: as many windows as somebody may look at. */
const MOST_BOOKS = 20;

/** Reads `id` or `id:seq`; null: from now on. Refuses what is no such list. */
function followedBooks(named: readonly string[]): Map<string, number | null> {
  const books = new Map<string, number | null>();
  for (const one of named) {
    const [, id, seq] = /^([A-Za-z0-9._-]{1,64}(?:~[A-Za-z0-9._-]{1,64})?)(?::(\d{1,9}))?$/.exec(one) ?? [];
    if (!id) throw new Refusal('bad-request', 'A stream follows books by their ids, as id or id:line.');
    books.set(id, seq === undefined ? null : Number(seq));
  }
  if (books.size > MOST_BOOKS) throw new Refusal('bad-request', `A stream follows ${MOST_BOOKS} books at most.`);
  return books;
}

/** Who asks for a stream, and from which of their windows: `window`, where it says so. */
function followerOf(request: Request, school: string, person: string, secret: string): Follower {
  const window = request.query['window'];
  const named = typeof window === 'string' && /^[\w-]{1,64}$/.test(window) ? window : null;
  return { school, person, session: sessionIdOf(request, secret)!, window: named };
}

/** Opens a stream on a response; `enter` adds it to those that are told, and gives how it is left. */
async function openStream(response: Response, enter: (stream: EventStream) => Promise<() => void>): Promise<void> {
  response.status(200).set({
    'Content-Type': 'text/event-stream; charset=utf-8',
    'Cache-Control': 'no-store',
    'X-Accel-Buffering': 'no',
  });
  response.flushHeaders();
  const stream = new EventStream(response);
  const leave = await enter(stream);
  const stopSigns = every(SIGN_EVERY, () => stream.sign());
  stream.closed(() => {
    stopSigns();
    leave();
  });
}

export const presenceRoutes = (live: Live): Route[] => [
  route({
    method: 'get',
    path: '/events',
    permission: 'signed-in',
    summary:
      'What others change in each `book` that is named, and who is there, as server-sent events; `book=id:17` from line 17 of its journal on. `window` names the page that asks: it has one stream.',
    answer: LiveEvent,
    async stream({ request, response, school, person, config }) {
      const books = followedBooks([request.query['book'] ?? []].flat().map(String));
      const who = followerOf(request, school, person.id, config.sessionSecret);
      live.endWindow(who);
      live.requireRoom(who);
      await openStream(response, async (stream) => {
        const page = await live.enter(
          who,
          books,
          (event) => stream.send(JSON.stringify(event)),
          () => stream.end(),
        );
        return () => void page.leave();
      });
    },
  }),
  route({
    method: 'get',
    path: '/my/events',
    permission: 'student',
    summary: 'What is released to the student who asks, or withdrawn, as server-sent events: that it was, never what.',
    answer: OwnEvent,
    async stream({ request, response, school, person, config }) {
      const who = followerOf(request, school, person.id, config.sessionSecret);
      live.endWindow(who);
      live.requireRoom(who);
      await openStream(response, (stream) =>
        live.enterStudent(
          who,
          (event) => stream.send(JSON.stringify(event)),
          () => stream.end(),
        ),
      );
    },
  }),
  route({
    method: 'put',
    path: '/books/{book}/place',
    permission: 'book-read',
    names: 'aware',
    summary: 'Where one is in the book, for the others who have it open.',
    body: PlaceWrite,
    answer: Done,
    async handler({ pool, school, person, params, body }) {
      const who = { connection: body.connection, school, book: params['book']!, person: person.id };
      if (!(await visits.moveTo(pool, who, body.enrolment, body.assessment)))
        throw new Refusal('not-found', 'This page is not connected any more.');
      return { done: true as const };
    },
  }),
];
