import { cellKey } from '@contract/wire/cell-key';
import { inject, Injectable, signal } from '@angular/core';
import { Api, ApiProblem } from './api';
import { Operations } from './operations';
import type { BookAnnotations as BookAnnotationsAnswer, StaffNote, StaffNoteWrite } from '@contract/annotations';
import type { SavedView, StudentGroup } from '@contract/groups';

/** The place of a note on a student as a whole. */
export const WHOLE = '*';

/** What stands beside the scores of the open book: notes and flags, groups, one's own views, what is new. */
@Injectable({ providedIn: 'root' })
export class BookAnnotations {
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly book = signal('');
  /** One's own last write to each place that is under way, with the version that it was over and the one that it made. */
  private readonly underWay = new Map<string, Promise<{ seen: number; made: number } | null>>();

  readonly notes = signal<ReadonlyMap<string, StaffNote>>(new Map());
  readonly groups = signal<StudentGroup[]>([]);
  readonly views = signal<SavedView[]>([]);
  /** Cells that others changed since the visit before this one, this visit included. */
  readonly changed = signal<ReadonlySet<string>>(new Set());
  /** When that visit ended. */
  readonly sinceAt = signal('');

  async load(book: string): Promise<void> {
    if (this.book() !== book) this.forget(book);
    const answer = await this.api.get<BookAnnotationsAnswer>(`/books/${encodeURIComponent(book)}/annotations`);
    if (this.book() !== book) return;
    this.notes.set(new Map(answer.notes.map((r) => [cellKey(r.enrolment, r.place), r])));
    this.groups.set(answer.groups);
    this.views.set(answer.views);
    this.changed.set(new Set(answer.changed.map((c) => cellKey(c.enrolment, c.assessment))));
    this.sinceAt.set(answer.sinceAt);
  }

  private forget(book: string): void {
    this.book.set(book);
    this.notes.set(new Map());
    this.groups.set([]);
    this.views.set([]);
    this.changed.set(new Set());
  }

  noteAt(student: string, place: string): StaffNote {
    return (
      this.notes().get(cellKey(student, place)) ?? {
        enrolment: student,
        place,
        version: 0,
        note: null,
        secondLookBy: null,
      }
    );
  }

  put(remarks: StaffNote[]): void {
    if (remarks.length === 0) return;
    const next = new Map(this.notes());
    for (const r of remarks) {
      const key = cellKey(r.enrolment, r.place);
      if (r.version >= (next.get(key)?.version ?? 0)) next.set(key, r);
    }
    this.notes.set(next);
  }

  noteChanged(cells: { enrolment: string; assessment: string }[]): void {
    if (cells.length === 0) return;
    this.changed.set(new Set([...this.changed(), ...cells.map((c) => cellKey(c.enrolment, c.assessment))]));
  }

  /**
   * Writes a note or a flag over the version that is shown now. One's own writes to one place go one after the other,
   * so that a flag set while a note is under way is no conflict. Where somebody else wrote, theirs is shown and it throws.
   */
  async write(student: string, place: string, what: Pick<StaffNoteWrite, 'note' | 'secondLook'>): Promise<void> {
    const book = this.book();
    const key = JSON.stringify([book, student, place]);
    const seen = this.noteAt(student, place).version;
    const before = this.underWay.get(key);
    const turn = (before ?? Promise.resolve(null)).then(async (last) => {
      // What one's own write before this made of the version that was seen then is seen too.
      const version = last && last.seen === seen ? last.made : seen;
      return { seen, made: await this.send(book, student, place, { version, ...what }) };
    });
    const settled = turn.catch(() => null);
    this.underWay.set(key, settled);
    try {
      await turn;
    } finally {
      if (this.underWay.get(key) === settled) this.underWay.delete(key);
    }
  }

  private async send(
    book: string,
    student: string,
    place: string,
    body: Omit<StaffNoteWrite, 'operation'>,
  ): Promise<number> {
    const path = `/books/${book}/staff-notes/${encodeURIComponent(student)}/${encodeURIComponent(place)}`;
    try {
      const note = await this.operations.submit<StaffNote>('PUT', path, body);
      if (this.book() === book) this.put([note]);
      return note.version;
    } catch (error) {
      if (error instanceof ApiProblem && error.code === 'stale' && this.book() === book)
        this.put([error.now as StaffNote]);
      throw error;
    }
  }

  async keepGroup(g: Omit<StudentGroup, 'version'> & { version: number }): Promise<void> {
    this.groups.set(
      await this.operations.submit<StudentGroup[]>('PUT', `/books/${this.book()}/groups/${g.id}`, {
        version: g.version,
        title: g.title,
        members: g.members,
      }),
    );
  }

  async removeGroup(g: StudentGroup): Promise<void> {
    this.groups.set(
      await this.operations.submit<StudentGroup[]>('DELETE', `/books/${this.book()}/groups/${g.id}`, {
        version: g.version,
      }),
    );
  }

  async keepView(v: SavedView): Promise<void> {
    this.views.set(
      await this.api.send<SavedView[]>('PUT', `/books/${this.book()}/views/${v.id}`, {
        title: v.title,
        query: v.query,
      }),
    );
  }

  async removeView(id: string): Promise<void> {
    this.views.set(await this.api.send<SavedView[]>('DELETE', `/books/${this.book()}/views/${id}`));
  }
}
