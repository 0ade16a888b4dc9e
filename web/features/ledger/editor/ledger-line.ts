import { cellKey } from '@contract/wire/cell-key';
import { computed, inject, Injectable, signal } from '@angular/core';
import { Router } from '@angular/router';
import type { CellChange, EntryContent } from '@core/book/change';
import { UnreadableEntries } from '../../../data/outbox/unreadable-entries';
import { CommandPalette } from '../../../ui/layout/command-palette';
import { StatusBar } from '../../../ui/layout/status-bar';
import { BookActs } from '../acts/book-acts';
import { LedgerActs } from '../acts/ledger-acts';
import { LedgerView } from '../view/ledger-view';
import type { CellEditor } from './cell-editor';
import { NO_TARGET, type CellTarget, type Step } from './cell-target';
import { standingTarget, targetOf } from './cell-target';
import type { BookAct } from './slash-words';

/** What the line needs of its page. */
interface LinePage {
  editor(): CellEditor | undefined;
  /** Shows at once what was set: the next key must already find the line. */
  detect(): void;
  close(step: Step, keepSelection?: boolean): void;
  goTo(row: number, col: number, extend?: boolean): void;
}

/** The line over the cell: opened by a key, and what becomes of what is typed there. For one page. */
@Injectable()
export class LedgerLine {
  private readonly view = inject(LedgerView);
  private readonly store = this.view.store;
  private readonly acts = inject(LedgerActs);
  private readonly bookActs = inject(BookActs);
  private readonly unreadable = inject(UnreadableEntries);
  private readonly statusBar = inject(StatusBar);
  private readonly palette = inject(CommandPalette);
  private readonly router = inject(Router);
  private page!: LinePage;
  /** How often the line was opened: what it is over is read once more while it is open. */
  private openings = 0;
  /** What is typed over; null: nothing. */
  readonly editing = signal<CellTarget | null>(null);
  readonly noTarget = NO_TARGET;
  /** Whose cell it is, for who does not see it. */
  readonly label = computed(() => {
    const place = this.view.place();
    const person = place ? this.store.people().get(place.student) : undefined;
    const title = place?.item ? this.store.assessments().get(place.item)?.title : 'Standing';
    return `${person?.family ?? ''}, ${person?.given ?? ''}, ${title ?? ''}`;
  });

  begin(page: LinePage): void {
    this.page = page;
  }

  /** Keys where there is no cell: on the standing a final grade is typed; elsewhere words of action go on in the palette. */
  private typedBeside(first: string | null, student: string | undefined): void {
    const column = this.view.layout()[this.view.cursor().col];
    if (column?.kind === 'criterion' && student !== undefined && first?.startsWith('/') !== true)
      return this.mark(column.of, student, first);
    if (student === undefined || column !== undefined)
      return first?.startsWith('/') ? this.palette.open.set(true) : undefined;
    if (first?.startsWith('/') !== true && !this.acts.mayWrite()) return;
    if (first?.startsWith('/') !== true && !this.store.mayManage())
      return this.statusBar.announce('A final grade is set in its place by the teachers of this book.', 'trouble');
    this.openLine(standingTarget(student), first);
  }

  /** Levels are given where the work is seen. */
  private mark(assessment: string, student: string, first: string | null): void {
    if (first !== null) return this.statusBar.announce('Levels are given in the marking room: Enter opens it there.');
    void this.router.navigate(['/book', this.store.id(), 'marking', assessment], { queryParams: { student } });
  }

  /** Opens the line over the cell. The content comes from what is on the page, so that no key is lost while waiting. */
  async edit(first: string | null): Promise<void> {
    const place = this.view.place();
    if (!place?.item) return this.typedBeside(first, place?.student);
    // An action word may lead somewhere that changes nothing; the acts say for themselves what may be.
    if (first?.startsWith('/') !== true && !this.acts.mayWrite()) return;
    const unreadableText = this.unreadable.all().get(cellKey(place.student, place.item))?.text ?? null;
    const selected = this.view.selected() > 1 ? this.view.cells() : [];
    const target = targetOf(this.store, { ...place, item: place.item }, unreadableText, selected);
    this.openLine(target, first);
    const open = this.editing();
    // A figure takes the place of whatever is there; anything else needs to know all of it.
    if (first !== null && /^[\d.,]/.test(first) && target.marks.length === 0) return;
    const content = await this.store.worker().content(place.student, place.item);
    if (this.editing() !== open) return;
    this.editing.set({ ...target, content });
    this.page.detect();
    this.page.editor()!.refresh();
  }

  private openLine(target: CellTarget, first: string | null): void {
    this.openings++;
    this.editing.set(target);
    this.bookActs.begin();
    // Of a column that is selected as a whole, the cursor may be out of sight.
    this.page.goTo(this.view.cursor().row, this.view.cursor().col, this.view.anchor() !== null);
    // At once, not at the next frame: the second key must already find the line.
    this.page.detect();
    this.page.editor()!.begin(first);
  }

  enter({ change, typed, step, all }: { change: CellChange; typed: string; step: Step; all: boolean }): void {
    const target = this.editing();
    const many = all && this.view.selected() > 1;
    if (many) this.acts.changeSelected(change, typed, target!.seen);
    this.page.close(step, many);
    if (!target || many || !this.acts.mayWrite()) return;
    const { student, item } = target;
    this.unreadable.drop([cellKey(student, item)]);
    void this.store.change({ student, item, change, typed, seen: target.seen.get(cellKey(student, item))! });
  }

  unreadableEntered({ text, message, step }: { text: string; message: string; step: Step }): void {
    const target = this.editing();
    this.page.close(step);
    if (target) this.acts.keepUnreadable(target.student, target.item, text, message);
  }

  slashed(text: string): void {
    const seen = this.editing()?.seen ?? NO_TARGET.seen;
    this.page.close('stay', true);
    if (!this.acts.mayWrite()) return;
    const read = this.acts.slashSelected(text, seen);
    if (read?.kind === 'refused') this.statusBar.announce(read.message, 'trouble');
  }

  /** An act on more than cells: the line closes once it is done, or says why it is not. */
  async acted({ act, reason }: { act: BookAct; reason: string }): Promise<void> {
    const [open, opening] = [this.editing() !== null, this.openings];
    if (!this.acts.mayWrite()) return this.page.editor()!.refuse('');
    const problem = await this.bookActs.make(act, reason);
    const isOpen = open && this.editing() !== null && this.openings === opening;
    if (problem === '') return isOpen ? this.page.close('stay', true) : undefined;
    if (isOpen) this.page.editor()!.refuse(problem);
    else this.statusBar.announce(problem, 'trouble');
  }

  /** What the cell held earlier, once more. */
  putAgain(entry: EntryContent): void {
    const place = this.view.place();
    if (place?.item && this.acts.mayWrite())
      void this.store.change({ student: place.student, item: place.item, change: { kind: 'put', entry }, typed: '' });
  }
}
