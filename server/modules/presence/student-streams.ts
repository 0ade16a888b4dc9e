import type { OwnEvent } from '@contract/presence';
import type pg from 'pg';
import { newId } from '../../kernel/database';
import { releasedToAt, studentsStillHere } from './sql';
import { isSameWindow, type Follower } from './watchers';

/** The stream of one page of a student. */
interface StudentStream extends Follower {
  connection: string;
  send(event: OwnEvent): void;
  end(): void;
}

/** Streams of students: each hears of what is released to them or withdrawn, and of nobody else. */
export class StudentStreams {
  private readonly streams = new Set<StudentStream>();

  constructor(private readonly pool: pg.Pool) {}

  countOf(person: string): number {
    return [...this.streams].filter((s) => s.person === person).length;
  }

  /** Gives how it is left. */
  add(who: Omit<StudentStream, 'connection'>): () => void {
    const stream = { ...who, connection: newId('c') };
    this.streams.add(stream);
    return () => this.streams.delete(stream);
  }

  /** Ends what the same window had before. */
  endWindow(who: Follower): void {
    for (const s of this.streams) if (isSameWindow(s, who) && this.streams.delete(s)) s.end();
  }

  async tell(of: { school: string; book: string; assessment: string; at: string }): Promise<void> {
    const here = [...this.streams].filter((s) => s.school === of.school);
    if (here.length === 0) return;
    const persons = await releasedToAt(this.pool, of);
    const those = here.filter((s) => persons.has(s.person));
    await this.partWithOthers(those);
    const { book, assessment } = of;
    for (const s of those) if (this.streams.has(s)) s.send({ kind: 'slip', book, assessment });
  }

  /** Ends the streams of those who have signed out or are not of the school any more. */
  async partWithOthers(streams: readonly StudentStream[] = [...this.streams]): Promise<void> {
    if (streams.length === 0) return;
    const here = await studentsStillHere(this.pool, streams);
    for (const s of streams) {
      if (here.has(s.connection) || !this.streams.delete(s)) continue;
      s.end();
    }
  }

  end(): void {
    for (const s of this.streams) s.end();
    this.streams.clear();
  }
}
