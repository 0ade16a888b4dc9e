import { every } from '../../kernel/timers';
import { PlaceWrite, LiveEvent } from '@contract/presence';
import type { Live } from './live';
import { Refusal } from '../../kernel/refusal';
import * as visits from './sql';
import { route, type Route } from '../../http/route';
import { Done } from '@contract/wire';

/** Milliseconds between two signs of life on a stream, so that nothing between takes it for dead. */
const SIGN_EVERY = 20_000;

export const presenceRoutes = (live: Live): Route[] => [
  route({
    method: 'get',
    path: '/books/{book}/events',
    permission: 'book-read',
    summary: 'What others change from line `after` on, and who is here, as server-sent events.',
    answer: LiveEvent,
    async stream({ request, response, school, person, params, role }) {
      const resume = request.get('last-event-id') ?? String(request.query['after'] ?? '');
      const after = /^\d{1,9}$/.test(resume) ? Number(resume) : null;
      response.status(200).set({
        'Content-Type': 'text/event-stream; charset=utf-8',
        'Cache-Control': 'no-store',
        'X-Accel-Buffering': 'no',
      });
      response.flushHeaders();
      const send = (event: LiveEvent): void => {
        const id = 'seq' in event ? `id: ${event.seq}\n` : '';
        response.write(`${id}data: ${JSON.stringify(event)}\n\n`);
      };
      const who = { school, book: params['book']!, person: person.id, office: role === 'administrator' };
      let gone = false;
      request.on('close', () => (gone = true));
      const place = await live.enter(who, after, send, () => response.end());
      const stopSigns = every(SIGN_EVERY, () => response.write(': here\n\n'));
      const leave = (): void => {
        stopSigns();
        void place.leave();
      };
      if (gone) leave();
      else request.on('close', leave);
    },
  }),
  route({
    method: 'put',
    path: '/books/{book}/place',
    permission: 'book-read',
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
