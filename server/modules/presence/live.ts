import { every } from '../../kernel/timers';
import type { LiveEvent, OwnEvent } from '@contract/presence';
import type pg from 'pg';
import { Refusal } from '../../kernel/refusal';
import { findBook, type JournalKinds } from '../books';
import { newId } from '../../kernel/database';
import { Listener } from '../../kernel/listener';
import { findPerson, personName } from '../accounts';
import { enter, leave, presentIn, renew, stillHere, visit } from './sql';
import { hiddenIn, veilOf } from '../hidden-names';
import { newsAfter, tellNews } from './book-news';
import { StudentStreams } from './student-streams';
import {
  isSameWindow,
  keyOf,
  othersThan,
  sendTo,
  type Follower,
  type StreamPlace,
  type Room,
  type Stream,
  type Watcher,
} from './watchers';

/** Streams of one person on one server at most. */
const MOST_STREAMS = 6;
/** Milliseconds between two signs of life, in which it is also asked whether a person may still look. */
const BEAT = 10_000;

/**
 * Tells open pages what others change. Any number of servers may do so on one database: each hears of every change from
 * the database itself, and reads from the journal what it was.
 */
export class Live {
  private readonly rooms = new Map<string, Room>();
  private readonly streams = new Set<Stream>();
  private listener: Promise<Listener> | null = null;
  private stopBeat = (): void => undefined;
  private ended = false;
  private readonly students: StudentStreams;

  constructor(
    private readonly kinds: JournalKinds,
    private readonly pool: pg.Pool,
    private readonly databaseUrl: string,
    private readonly failed: (error: unknown) => void,
  ) {
    this.students = new StudentStreams(pool);
  }

  /** Ends what the same window had before: its line broke, and nothing here has heard of that yet. */
  endWindow(who: Follower): void {
    for (const stream of this.streams) {
      if (!isSameWindow(stream, who)) continue;
      void this.leave(stream);
      stream.end();
    }
    this.students.endWindow(who);
  }

  /** Refuses one stream more of somebody who has as many as may be. */
  requireRoom({ person }: Follower): void {
    if ([...this.streams].filter((s) => s.person === person).length + this.students.countOf(person) >= MOST_STREAMS)
      throw new Refusal('slow-down', `You have ${MOST_STREAMS} pages open that are told of changes. Close one first.`);
  }

  /**
   * Adds a stream; it is told what comes after the given line in each book (null: from now on). Where that cannot be, it
   * is ended, and its page tries again by itself.
   */
  async enter(
    who: Follower,
    books: ReadonlyMap<string, number | null>,
    send: (event: LiveEvent) => void,
    end: () => void,
  ): Promise<StreamPlace> {
    const stream: Stream = { ...who, watchers: new Set(), send, end };
    this.streams.add(stream);
    try {
      this.listener ??= this.listen();
      await this.listener;
      for (const [book, seq] of books) await this.follow(stream, book, seq);
    } catch (error) {
      // A server that ends has let go of its database; whoever was just coming in goes to the next one.
      if (!this.ended) this.failed(error);
      stream.end();
    }
    if (this.ended || stream.watchers.size === 0) stream.end();
    return { leave: () => this.leave(stream) };
  }

  private async follow(stream: Stream, address: string, seq: number | null): Promise<void> {
    const { school, person, session, window } = stream;
    const [book, assessment] = address.split('~') as [string, string?];
    const place = { book, address, veil: null };
    const watcher: Watcher = { school, person, session, window, ...place, connection: newId('c'), seq: 0, stream };
    const found = await findBook(this.pool, school, book);
    if (!found || !(await stillHere(this.pool, [watcher])).has(watcher.connection))
      return stream.send({ kind: 'gone', book: address });
    if (assessment !== undefined) watcher.veil = await veilOf(this.pool, school, book, assessment);
    // Its place stands before it is greeted: from then on its page says where it is.
    await enter(this.pool, watcher);
    // Its page has gone meanwhile, or the server is ending.
    if (this.ended || !this.streams.has(stream)) return leave(this.pool, watcher.connection);
    watcher.seq = seq ?? found.seq;
    const key = keyOf(watcher);
    const room = this.rooms.get(key) ?? { school, book, watchers: new Set(), reading: false, again: false };
    this.rooms.set(key, room);
    room.watchers.add(watcher);
    stream.watchers.add(watcher);
    this.greet(watcher);
    this.read(key);
    await this.tellPeople(key);
  }

  /** From here on it is told: its page asks for what it lacks. */
  private greet({ stream, address, connection, seq }: Watcher): void {
    stream.send({ kind: 'hello', book: address, connection, seq });
  }

  private async leave(stream: Stream): Promise<void> {
    this.streams.delete(stream);
    for (const watcher of stream.watchers) {
      this.forget(watcher);
      if (!this.ended) await leave(this.pool, watcher.connection).catch(this.failed);
    }
  }

  private forget(watcher: Watcher): void {
    watcher.stream.watchers.delete(watcher);
    const room = this.rooms.get(keyOf(watcher));
    room?.watchers.delete(watcher);
    if (room?.watchers.size === 0) this.rooms.delete(keyOf(watcher));
  }

  private async listen(): Promise<Listener> {
    const listener = new Listener(
      this.databaseUrl,
      ['book', 'presence', 'feedback', 'marks', 'opened', 'slips'],
      (channel, words) => {
        const key = words.split(' ').slice(0, 2).join(' ');
        if (channel === 'book') this.read(key);
        else if (channel === 'feedback' || channel === 'marks') this.tell(key, this.tellWork(channel, key, words));
        else if (channel === 'slips') this.tell(key, this.tellSlips(key, words));
        else if (channel === 'opened') this.tell(key, this.tellOpened(key, words));
        else void this.tellPeople(key).catch(this.failed);
      },
      // What was said meanwhile was not heard; not all of it stands in a journal.
      () => {
        this.students.end();
        for (const [key, room] of this.rooms) {
          this.read(key);
          for (const w of room.watchers) this.greet(w);
        }
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
    const reading = this.readRoom(room).finally(() => {
      room.reading = false;
      if (!room.again) return;
      room.again = false;
      this.read(key);
    });
    this.tell(key, reading);
  }

  /** Where something cannot be told the room's streams end: their pages come back by themselves, and ask for what they lack. */
  private tell(key: string, telling: Promise<void>): void {
    telling.catch((error: unknown) => {
      if (this.ended) return;
      this.failed(error);
      for (const w of this.rooms.get(key)?.watchers ?? []) w.stream.end();
    });
  }

  private async readRoom(room: Room): Promise<void> {
    if (room.watchers.size === 0) return;
    const from = [...room.watchers].reduce((least, w) => Math.min(least, w.seq), Infinity);
    const news = await newsAfter(this.pool, this.kinds, room, from);
    // Asked after the news are read: what is told is told by who may look, and what is hidden, no earlier than that.
    const [hidden] = await Promise.all([this.hiddenOf(room), this.partWithOthers([...room.watchers])]);
    if (news) tellNews(room, hidden, news);
  }

  private hiddenOf({ school, book }: { school: string; book: string }): Promise<Set<string>> {
    return hiddenIn(this.pool, school, book);
  }

  private async tellPeople(key: string): Promise<void> {
    const room = this.rooms.get(key);
    if (!room || this.ended) return;
    const present = await presentIn(this.pool, room.school, room.book);
    const hidden = await this.hiddenOf(room);
    for (const w of room.watchers)
      sendTo(w, hidden, { kind: 'people', book: room.book, people: othersThan(w, present) });
  }

  /** Tells all who have the book open and may still look. */
  private async tellAll(key: string, event: (w: Watcher) => LiveEvent): Promise<void> {
    const room = this.rooms.get(key);
    if (!room || this.ended) return;
    await this.partWithOthers([...room.watchers]);
    const hidden = await this.hiddenOf(room);
    for (const w of room.watchers) sendTo(w, hidden, event(w));
  }

  /** Somebody wrote in a note or marked on work: pages that have it open fetch what they lack. */
  private tellWork(kind: 'feedback' | 'marks', key: string, words: string): Promise<void> {
    const [, book, assessment, enrolment, work, version] = words.split(' ') as [string, string, string, string, string, string?]; // prettier-ignore
    const at = { book, assessment, enrolment, work };
    const event =
      kind === 'marks' ? { kind, ...at } : { kind, ...at, note: version === undefined ? null : Number(version) };
    return this.tellAll(key, () => event);
  }

  /** Somebody of the staff opened work, or looked it through: lists say so. */
  private async tellOpened(key: string, words: string): Promise<void> {
    if (!this.rooms.has(key)) return;
    const [school, book, assessment, enrolment, work, person, how] = words.split(' ') as [string, string, string, string, string, string, string]; // prettier-ignore
    const who = await findPerson(this.pool, school, person);
    if (!who) return;
    const told = { kind: 'opened' as const, book, assessment, enrolment, work, through: how === 'through' };
    await this.tellAll(key, (w) => ({ ...told, by: w.person === person ? 'you' : personName(who) }));
  }

  /** Adds a stream of a student; where that cannot be, it is ended, and its page tries again by itself. Gives how it is left. */
  async enterStudent(who: Follower, send: (event: OwnEvent) => void, end: () => void): Promise<() => void> {
    try {
      this.listener ??= this.listen();
      await this.listener;
    } catch (error) {
      if (!this.ended) this.failed(error);
      end();
    }
    if (this.ended) end();
    return this.students.add({ ...who, send, end });
  }

  /** Something of an assessment was released or withdrawn; without a moment: what was released was opened. */
  private async tellSlips(key: string, words: string): Promise<void> {
    const [school, book, assessment, at] = words.split(' ') as [string, string, string, string];
    if (this.ended) return;
    if (at !== '-')
      await this.students.tell({ school, book, assessment, at }).catch((error: unknown) => {
        this.students.end();
        throw error;
      });
    await this.tellAll(key, () => ({ kind: 'slip', book, assessment }));
  }

  /** Renews who is here, and ends the streams of those who may not look any more. */
  private async keepAlive(): Promise<void> {
    await this.students.partWithOthers();
    const all = [...this.streams].flatMap((s) => [...s.watchers]);
    if (all.length === 0) return;
    await renew(
      this.pool,
      all.map((w) => w.connection),
    );
    await this.partWithOthers(all);
    for (const w of all) if (w.stream.watchers.has(w)) await visit(this.pool, w.school, w.book, w.person, w.seq);
  }

  /** Tells nothing more to those who have signed out, are not of the school any more, or were taken off the book. */
  private async partWithOthers(watchers: Watcher[]): Promise<void> {
    const here = await stillHere(this.pool, watchers);
    for (const w of watchers) {
      if (here.has(w.connection) || !w.stream.watchers.has(w)) continue;
      this.forget(w);
      w.stream.send({ kind: 'gone', book: w.address });
      if (w.stream.watchers.size === 0) w.stream.end();
    }
  }

  async stop(): Promise<void> {
    this.ended = true;
    this.stopBeat();
    const listener = await this.listener?.catch(() => null);
    for (const stream of this.streams) stream.end();
    this.students.end();
    await listener?.stop();
  }
}
