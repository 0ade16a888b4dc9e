import { every } from '../../kernel/timers';
import type { LiveEvent, PersonHere } from '@contract/presence';
import type pg from 'pg';
import { findBook, roleInBook } from '../books';
import { newId } from '../../kernel/database';
import { linesAfter } from '../history';
import { Listener } from '../../kernel/listener';
import { personName } from '../accounts';
import { cellKeyOf, stateOf } from '../../kernel/cells/cell';
import { currentNote, WHOLE_STUDENT } from '../annotations';
import { enter, leave, presentIn, renew, visit } from './sql';
import { currentCells } from '../scores';
import type { StaffNote } from '@contract/annotations';

/** More lines than this at once are not told one by one: the book is to be loaded anew. */
const MANY = 4_000;
/** Milliseconds between two signs of life, in which it is also asked whether a person may still look. */
const BEAT = 10_000;

/** One page that has a book open. */
interface Watcher {
  connection: string;
  school: string;
  book: string;
  person: string;
  office: boolean;
  seq: number;
  send(event: LiveEvent): void;
  end(): void;
}

/** A page's place among those that are told. */
interface Place {
  leave(): Promise<void>;
}
const NOWHERE: Place = { leave: async () => undefined };

/** All pages of this server that have one book open. */
interface Room {
  school: string;
  book: string;
  watchers: Set<Watcher>;
  reading: boolean;
  again: boolean;
}

/**
 * Tells open pages what others change. Any number of servers may do so on one database: each hears of every change from
 * the database itself, and reads from the journal what it was.
 */
export class Live {
  private readonly rooms = new Map<string, Room>();
  private listener: Promise<Listener> | null = null;
  private stopBeat = (): void => undefined;
  private ended = false;

  constructor(
    private readonly pool: pg.Pool,
    private readonly databaseUrl: string,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** Adds a page; it is told everything after line `seq`. Where that cannot be, it is ended and tries again by itself. */
  async enter(
    who: { school: string; book: string; person: string; office: boolean },
    seq: number | null,
    send: (event: LiveEvent) => void,
    end: () => void,
  ): Promise<Place> {
    try {
      return await this.begin(who, seq, send, end);
    } catch (error) {
      // A server that ends has let go of its database; whoever was just coming in goes to the next one.
      if (!this.ended) this.failed(error);
      end();
      return NOWHERE;
    }
  }

  private async begin(
    who: { school: string; book: string; person: string; office: boolean },
    seq: number | null,
    send: (event: LiveEvent) => void,
    end: () => void,
  ): Promise<Place> {
    this.listener ??= this.listen();
    await this.listener;
    // The server is ending: the page comes back to the next one by itself.
    if (this.ended) {
      end();
      return NOWHERE;
    }
    const key = `${who.school} ${who.book}`;
    const now = (await findBook(this.pool, who.school, who.book))!.seq;
    const watcher: Watcher = { ...who, connection: newId('c'), seq: seq ?? now, send, end };
    let room = this.rooms.get(key);
    if (!room)
      this.rooms.set(
        key,
        (room = { school: who.school, book: who.book, watchers: new Set(), reading: false, again: false }),
      );
    room.watchers.add(watcher);
    send({ kind: 'hello', connection: watcher.connection, seq: watcher.seq });
    await enter(this.pool, watcher);
    this.read(key);
    await this.tellPeople(key);
    return {
      leave: async () => {
        room.watchers.delete(watcher);
        if (room.watchers.size === 0 && this.rooms.get(key) === room) this.rooms.delete(key);
        if (!this.ended) await leave(this.pool, watcher.connection).catch(this.failed);
      },
    };
  }

  private async listen(): Promise<Listener> {
    const listener = new Listener(
      this.databaseUrl,
      ['book', 'presence'],
      (channel, words) => {
        const key = words.split(' ').slice(0, 2).join(' ');
        if (channel === 'book') this.read(key);
        else void this.tellPeople(key).catch(this.failed);
      },
      () => {
        for (const key of this.rooms.keys()) this.read(key);
      },
    );
    this.stopBeat = every(BEAT, () => void this.keepAlive().catch(this.failed));
    try {
      await listener.start();
      return listener;
    } catch (error) {
      this.listener = null;
      this.stopBeat();
      throw error;
    }
  }

  /** Reads what is new in a book and tells it; while it reads, further news wait for one more reading. */
  private read(key: string): void {
    const room = this.rooms.get(key);
    if (!room || this.ended) return;
    if (room.reading) return void (room.again = true);
    room.reading = true;
    void this.readRoom(room)
      .catch(this.failed)
      .finally(() => {
        room.reading = false;
        if (!room.again) return;
        room.again = false;
        this.read(key);
      });
  }

  private async readRoom(room: Room): Promise<void> {
    const from = Math.min(...[...room.watchers].map((w) => w.seq));
    if (!Number.isFinite(from)) return;
    const lines = await linesAfter(this.pool, room.school, room.book, from, MANY + 1);
    const last = lines[lines.length - 1];
    if (!last) return;
    const others = lines.filter((l) => !['cell', 'release', 'withdraw', 'note'].includes(l.kind));
    if (lines.length > MANY || others.length > 0) {
      const seq = (await findBook(this.pool, room.school, room.book))?.seq ?? last.seq;
      this.tell(room, last.seq, () => ({ kind: 'book', seq, what: [...new Set(others.map((l) => l.kind))] }), seq);
      return;
    }
    const cells = new Map<string, { seq: number; person: string; by: string; assessment: string; enrolment: string }>();
    for (const l of lines)
      if (l.kind !== 'note' && l.assessment && l.enrolment) {
        const place = { assessment: l.assessment, enrolment: l.enrolment };
        cells.set(cellKeyOf(place), { ...place, seq: l.seq, person: l.person, by: personName(l) });
      }
    const now = await currentCells(this.pool, room.school, room.book, [...cells.values()]);
    const states = [...cells].map(([key, c]) => ({ state: stateOf(now.get(key)!, c.seq), person: c.person, by: c.by }));
    const notes = lines.filter((l) => l.kind === 'note');
    const remarks: StaffNote[] = [];
    for (const key of new Set(notes.map((l) => `${l.enrolment} ${l.assessment ?? WHOLE_STUDENT}`))) {
      const [enrolment, place] = key.split(' ') as [string, string];
      remarks.push(await currentNote(this.pool, room.school, room.book, enrolment, place));
    }
    this.tell(room, last.seq, (w) => {
      const fresh = states.filter((s) => s.state.seq > w.seq);
      // What somebody did themselves, here or on another page, is no news to them.
      const by = fresh.map((s) => (s.person === w.person ? '' : s.by));
      return fresh.length === 0 ? null : { kind: 'cells', seq: last.seq, cells: fresh.map((s) => s.state), by };
    });
    if (remarks.length > 0) for (const w of room.watchers) w.send({ kind: 'remarks', seq: last.seq, remarks });
  }

  /** Sends each watcher what is after its own line, and moves it on. */
  private tell(room: Room, upTo: number, event: (w: Watcher) => LiveEvent | null, moveTo = upTo): void {
    for (const w of room.watchers) {
      if (w.seq >= upTo) continue;
      const e = event(w);
      w.seq = moveTo;
      if (e) w.send(e);
    }
  }

  private async tellPeople(key: string): Promise<void> {
    const room = this.rooms.get(key);
    if (!room || this.ended) return;
    const present = await presentIn(this.pool, room.school, room.book);
    for (const w of room.watchers) {
      const people: PersonHere[] = present
        .filter((p) => p.connection !== w.connection && p.person !== w.person)
        .map((p) => ({
          connection: p.connection,
          name: personName(p),
          enrolment: p.enrolment,
          assessment: p.assessment,
        }));
      w.send({ kind: 'people', people });
    }
  }

  /** Renews who is here, and ends the pages of those who may not look any more. */
  private async keepAlive(): Promise<void> {
    const all = [...this.rooms.values()].flatMap((r) => [...r.watchers]);
    if (all.length === 0) return;
    await renew(
      this.pool,
      all.map((w) => w.connection),
    );
    for (const w of all) {
      if (!w.office && (await roleInBook(this.pool, w.school, w.book, w.person)) === null) w.end();
      else await visit(this.pool, w.school, w.book, w.person, w.seq);
    }
  }

  async stop(): Promise<void> {
    this.ended = true;
    this.stopBeat();
    const listener = await this.listener?.catch(() => null);
    for (const room of this.rooms.values()) for (const w of room.watchers) w.end();
    await listener?.stop();
  }
}
