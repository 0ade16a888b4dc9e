import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  resource,
  signal,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { InputText } from 'primeng/inputtext';
import { cellKey } from '@contract/wire/cell-key';
import { LevelDrafts } from '../../../data/work/level-drafts';
import type { NotePlace } from '../../../data/work/outbox/note-outbox';
import { ArrivalList } from '../../../data/work/arrival-list';
import type { ArrivalRow } from '../../../data/work/arrival-rows';
import { BookStore } from '../../../data/book';
import { UnreadableEntries } from '../../../data/outbox/unreadable-entries';
import { completeTyped } from '../../../ui/form/complete-typed';
import { StatusBar } from '../../../ui/layout/status-bar';
import { shortContent } from '../../../ui/text/short-content';
import { NoteLine } from './note-line';
import { SheetNotes } from './sheet-notes';
import { ScoreEntry, typedScore } from '../score/score-entry';

/** The plain sheet: one assessment as a bare list to type scores and short comments down, as for work done in the room. */
@Component({
  selector: 'lt-plain-sheet',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [InputText, NoteLine, RouterLink],
  providers: [ArrivalList, LevelDrafts, SheetNotes],
  templateUrl: './plain-sheet.html',
  styleUrl: './plain-sheet.css',
  host: { role: 'main' },
})
export class PlainSheetPage {
  readonly assessment = input.required<string>();
  protected readonly store = inject(BookStore);
  protected readonly list = inject(ArrivalList);
  private readonly entry = inject(ScoreEntry);
  private readonly unreadable = inject(UnreadableEntries);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly drafts = inject(LevelDrafts);
  protected readonly notes = inject(SheetNotes);
  protected readonly item = this.list.item;
  private readonly column = resource({
    params: () => ({ item: this.list.assessment(), there: this.list.rows().length > 0, at: this.store.revision() }),
    loader: ({ params }) => (params.there ? this.store.worker().column(params.item) : Promise.resolve([])),
  });
  /** What each cell holds; while it is asked again what was there stays. */
  private readonly contents = signal<ReadonlyMap<string, string>>(new Map());
  /** What is being typed, and what is said of it. */
  protected readonly typing = signal<{ student: string; text: string; seen: number; stood: string } | null>(null);
  protected readonly message = signal<{ student: string; text: string } | null>(null);
  /** What was asked about, of whom: asked once for each. */
  private asked: { student: string; text: string } | null = null;
  protected readonly scored = computed(
    () => this.list.rows().filter((r) => r.kind === 'draft' || r.kind === 'released').length,
  );

  constructor() {
    effect(() => {
      this.list.assessment.set(this.assessment());
      this.drafts.assessment.set(this.assessment());
    });
    effect(() => {
      if (this.column.hasValue())
        this.contents.set(new Map(this.column.value().map((c) => [c.student, typedScore(c.content)])));
    });
    const statusBar = inject(StatusBar);
    effect(() => statusBar.setIdle(`${this.scored()} of ${this.list.rows().length} scored.`, false));
    statusBar.keys.set([
      { key: 'Enter', label: 'keep, and on to the next' },
      { key: '↑ ↓', label: 'from student to student' },
      { key: 'Esc', label: 'as it was' },
    ]);
    inject(DestroyRef).onDestroy(() => this.leave());
  }

  protected shown(student: string): string {
    return this.contents().get(student) ?? '';
  }

  /** What stands in a box but for what is being typed. */
  protected stands(student: string): string {
    const t = this.typing();
    // While one types, what others keep does not take it away.
    if (t?.student === student) return t.stood;
    return this.unreadable.all().get(cellKey(student, this.assessment()))?.text ?? this.shown(student);
  }

  /** What is said under a row: what was just typed, what could not be read, or that somebody else was there first. */
  protected says(student: string): string {
    const m = this.message();
    if (m?.student === student) return m.text;
    const key = cellKey(student, this.assessment());
    const kept = this.unreadable.all().get(key);
    if (kept && this.typing()?.student !== student) return kept.message;
    const trouble = this.store.outbox.troubles().get(key);
    if (!trouble) return '';
    return trouble.kind === 'clash'
      ? `Somebody else kept ${shortContent(trouble.theirs.entry)} meanwhile.`
      : trouble.message;
  }

  protected clashes(student: string): boolean {
    return this.store.outbox.troubles().get(cellKey(student, this.assessment()))?.kind === 'clash';
  }

  protected takeTheirs(student: string): void {
    void this.store.takeTheirs(student, this.assessment());
  }

  protected input(student: string, event: Event): void {
    const { value: text } = event.target as HTMLInputElement;
    const before = this.typing()?.student === student ? this.typing()! : null;
    const seen = before?.seen ?? this.store.versionAt(student, this.assessment());
    this.typing.set({ student, text, seen, stood: before?.stood ?? this.stands(student) });
    this.message.set(null);
    completeTyped(event, this.item()?.marks ?? []);
  }

  protected press(row: ArrivalRow, event: KeyboardEvent): void {
    const box = event.target as HTMLInputElement;
    if (event.key === 'Escape') {
      this.typing.set(null);
      this.message.set(null);
      box.value = this.stands(row.enrolment);
    } else if (event.key === 'Enter' || event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      if (this.enter(row, box.value)) this.focusFrom(box, event.key === 'ArrowUp' || event.shiftKey ? -1 : 1);
    } else return;
    event.preventDefault();
  }

  /** Left by other ways than Enter: what can be read is kept, what cannot stays as it was typed. */
  protected left(row: ArrivalRow, event: Event): void {
    const text = (event.target as HTMLInputElement).value;
    if (this.typing()?.student === row.enrolment && !this.enter(row, text)) this.setAside(row, text);
  }

  private leave(): void {
    const t = this.typing();
    const row = this.list.rows().find((r) => r.enrolment === t?.student);
    if (t && row && !this.enter(row, t.text)) this.setAside(row, t.text);
  }

  private setAside(row: ArrivalRow, text: string): void {
    this.entry.setAside({ student: row.enrolment, item: this.assessment() }, text, this.message()?.text ?? '');
    this.typing.set(null);
    this.message.set(null);
  }

  private enter(row: ArrivalRow, text: string): boolean {
    const t = this.typing();
    if (t?.student !== row.enrolment) return true;
    if (text.trim() === this.shown(row.enrolment)) {
      this.typing.set(null);
      return true;
    }
    const handedIn = row.submissions.some((s) => s.state === 'handed-in') || this.item()?.takesWork !== true;
    const message = this.entry.enter(
      { student: row.enrolment, item: this.assessment(), handedIn },
      text,
      t.seen,
      this.asked?.student === row.enrolment ? this.asked.text : '',
    );
    if (message !== '') {
      this.asked = { student: row.enrolment, text };
      this.message.set({ student: row.enrolment, text: message });
      return false;
    }
    // It stands in the box until the cell holds it.
    this.contents.update((all) => new Map(all).set(row.enrolment, text.trim()));
    this.typing.set(null);
    this.message.set(null);
    return true;
  }

  /** Scores and comments are there together: a comment that came later would turn a Tab to it into one to the next score. */
  protected readonly rows = computed(() => (this.drafts.isAnswered() ? this.list.rows() : []));
  protected readonly problems = computed(() =>
    [this.list.problem(), this.drafts.problem(), this.notes.problem()].filter((p) => p !== ''),
  );

  /** Where the note to a student's work stands; null: it is not known yet which work that is. */
  protected noteOf(enrolment: string): NotePlace | null {
    const work = this.drafts.workOf(enrolment);
    return work ? { book: this.store.id(), assessment: this.assessment(), enrolment, work } : null;
  }

  /** After a comment the next student's score has the keys. */
  protected afterComment(enrolment: string): void {
    const box = this.host.nativeElement.querySelector<HTMLInputElement>(`#score-${CSS.escape(enrolment)}`);
    if (box) this.focusFrom(box, 1);
  }

  /** From one comment to that of the student before or after. */
  protected toComment(enrolment: string, by: 1 | -1): void {
    const row = this.host.nativeElement.querySelector(`#score-${CSS.escape(enrolment)}`)?.closest('li');
    const next = by === 1 ? row?.nextElementSibling : row?.previousElementSibling;
    next?.querySelector<HTMLInputElement>('lt-note-line input')?.focus();
  }

  private focusFrom(box: HTMLInputElement, by: 1 | -1): void {
    const boxes = [...this.host.nativeElement.querySelectorAll<HTMLInputElement>('li > input')];
    const next = boxes[boxes.indexOf(box) + by];
    next?.focus();
    next?.select();
    next?.scrollIntoView({ block: 'nearest' });
  }
}
