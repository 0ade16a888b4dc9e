import { counted } from '@core/words/count';
import { cellKey } from '@contract/wire/cell-key';
import { inject, Injectable, signal } from '@angular/core';
import type { CellChange } from '@core/book/change';
import type { PutBackMade } from '@contract/history';
import { messageOf } from '../../../data/api';
import { BookAnnotations } from '../../../data/annotations';
import type { CellWrite } from '../../../data/book';
import { StatusBar } from '../../../ui/layout/status-bar';
import { UnreadableEntries } from '../../../data/outbox/unreadable-entries';
import { STATES } from '../../../worker/protocol';
import { LedgerView } from '../view/ledger-view';
import { CellTexts } from '../clipboard/cell-texts';
import { OWN_TYPE } from '../clipboard/copying';
import { planPaste, readClipboard, type PasteCell, type PastePlan, type PasteTarget } from '../clipboard/paste';
import { dayReader } from '../editor/lazy-days';
import { readSlash, type SlashRead } from '../editor/slash-words';

/** Cells that one paste may hold. */
const MOST = 50_000;

export interface Preview {
  plan: PastePlan;
  kind: 'paste' | 'fill';
}

const seenOf = (seen: ReadonlyMap<string, number>, student: string, item: string): { seen?: number } => {
  const version = seen.get(cellKey(student, item));
  return version === undefined ? {} : { seen: version };
};

/** What can be done to the selected cells. */
@Injectable()
export class LedgerActs {
  private readonly view = inject(LedgerView);
  private readonly store = this.view.store;
  private readonly texts = inject(CellTexts);
  private readonly annotations = inject(BookAnnotations);
  private readonly unreadable = inject(UnreadableEntries);
  private readonly statusBar = inject(StatusBar);

  /** A paste or fill that is looked at before it is made. */
  readonly preview = signal<Preview | null>(null);

  /** Says why where nothing may be typed; true where it may. */
  mayWrite(): boolean {
    if (this.store.closing()) {
      this.statusBar.announce('This is the book as at closing. Go back to the book as it is to change it.', 'trouble');
      return false;
    }
    if (this.store.stood() !== null) {
      this.statusBar.announce('This is the book as it stood. Go back to the book as it is to change it.', 'trouble');
      return false;
    }
    if (!this.store.mayScore()) {
      this.statusBar.announce(this.readOnly(), 'trouble');
      return false;
    }
    return !this.isHidden();
  }

  /** Names are hidden in something of what is selected: it is marked in the marking room, and said so. */
  private isHidden(): boolean {
    const hidden = this.view.selectedItems().find((item) => this.store.hidden().has(item));
    if (hidden === undefined) return false;
    const title = this.store.titles()[hidden] ?? hidden;
    this.statusBar.announce(
      `Names are hidden in ${title}: it is marked in the marking room, until a teacher shows them there.`,
      'trouble',
    );
    return true;
  }

  /** Pastes at the selection; where something is in doubt or would be overwritten, it is shown first. */
  async paste(data: DataTransfer): Promise<void> {
    if (!this.mayWrite()) return;
    const own = data.getData(OWN_TYPE);
    const text = data.getData('text/plain');
    // Our own form counts only where the text is still the one that was copied with it.
    const block = own === '' ? await readClipboard(text) : (JSON.parse(own) as string[][]);
    if (block.length === 0) return this.statusBar.announce('There is nothing to paste.', 'trouble');
    if (block.reduce((n, r) => n + r.length, 0) > MOST)
      return this.statusBar.announce('This is more than a book holds. Bring it in on the Intake page.', 'trouble');
    await this.store.shown();
    this.lay(block, 'paste');
  }

  /** Fills the selection from its first row down, or its first column across. */
  async fill(way: 'down' | 'across'): Promise<void> {
    if (!this.mayWrite()) return;
    await this.store.shown();
    const { top, bottom, left, right } = this.view.selection();
    if ((way === 'down' ? bottom - top : right - left) === 0)
      return this.statusBar.announce(`Select the cells to fill first: Shift and the arrows, or the mouse.`, 'trouble');
    const textAt = (row: number, col: number): string => {
      const s = this.view.rows()[row];
      const item = this.view.itemAt(col);
      return s === undefined || item === null ? '' : this.texts.typed(s, item);
    };
    const block = Array.from({ length: bottom - top + 1 }, (_, r) =>
      Array.from({ length: right - left + 1 }, (_c, c) =>
        way === 'down' ? textAt(top, left + c) : textAt(top + r, left),
      ),
    );
    if (block.flat().every((t) => t === ''))
      return this.statusBar.announce(
        `There is nothing in the first ${way === 'down' ? 'row' : 'column'} to fill with.`,
        'trouble',
      );
    this.lay(block, 'fill');
  }

  private lay(block: string[][], kind: Preview['kind']): void {
    const { top, bottom, left, right } = this.view.selection();
    const plan = planPaste(block, { rows: bottom - top + 1, columns: right - left + 1 }, (r, c) =>
      this.targetAt(top + r, left + c),
    );
    if (plan.clear) this.make(plan.cells, kind);
    else this.preview.set({ plan, kind });
  }

  private targetAt(row: number, col: number): PasteTarget | null {
    const s = this.view.rows()[row];
    const item = this.view.itemAt(col);
    if (s === undefined || item === null) return null;
    const { points: full, marks } = this.store.assessments().get(item)!;
    const student = this.store.students()[s]!;
    const version = this.store.versionAt(student, item);
    return { student, item, points: full, marks, now: this.texts.typed(s, item), version };
  }

  /** Makes the cells of a plan; what cannot be read stays in its cell as it was typed. */
  make(cells: PasteCell[], kind: 'paste' | 'fill'): void {
    this.preview.set(null);
    const writes = cells.flatMap((c): CellWrite[] =>
      c.change === null || c.kind === 'same'
        ? []
        : [
            {
              student: c.target.student,
              item: c.target.item,
              change: c.change,
              typed: c.text,
              seen: c.target.version,
            },
          ],
    );
    this.unreadable.drop(writes.map((w) => cellKey(w.student, w.item)));
    this.unreadable.keep(
      cells
        .filter((c) => c.kind === 'refused')
        .map((c) => [cellKey(c.target.student, c.target.item), { text: c.text, message: c.message }]),
    );
    void this.store.changeAll(kind, writes);
    const same = cells.filter((c) => c.kind === 'same').length;
    const done = kind === 'paste' ? 'pasted' : 'filled';
    const cellsOf = (n: number): string => counted(n, 'cell');
    this.statusBar.announce(`${cellsOf(writes.length)} ${done}${same > 0 ? `; ${cellsOf(same)} had it already` : ''}.`);
  }

  /** Takes scores and states away from all selected cells; receipts stay. */
  async clear(): Promise<void> {
    if (!this.mayWrite()) return;
    const cells = this.view.cells();
    await this.store.shown();
    this.unreadable.drop(cells.map((c) => cellKey(c.student, c.item)));
    const writes = cells
      .filter((c) => this.texts.typed(c.s, c.item) !== '')
      .map((c): CellWrite => ({ student: c.student, item: c.item, change: { kind: 'clear' }, typed: '' }));
    if (writes.length === 0) return;
    void this.store.changeAll('clear', writes);
    if (writes.length > 1) this.statusBar.announce(`${writes.length} cells cleared. Ctrl+Z brings them back.`);
  }

  /** The same change for every selected cell, as one. */
  changeSelected(change: CellChange, typed: string, seen: ReadonlyMap<string, number>): void {
    const cells = this.view.cells();
    this.unreadable.drop(cells.map((c) => cellKey(c.student, c.item)));
    void this.store.changeAll(
      'change',
      cells.map(({ student, item }) => ({ student, item, change, typed, ...seenOf(seen, student, item) })),
    );
  }

  /** An action word for every selected cell, each read with its own assessment; or the first that cannot be. */
  writesOf(text: string, seen: ReadonlyMap<string, number>): CellWrite[] | SlashRead {
    const page = this.store.page()!;
    const writes: CellWrite[] = [];
    for (const c of this.view.cells()) {
      const cells = this.store.cells()!;
      const at = this.store.at(c.s, this.store.itemIndex().get(c.item)!);
      const state = STATES[cells.state[at]!]!;
      const { due, points, marks } = this.store.assessments().get(c.item)!;
      const read = readSlash(text, {
        ...{ timeZone: page.timeZone, asOf: page.asOf, due, points, marks, readDay: dayReader() },
        hasWork: state === 'scored' || state === 'pending' || !Number.isNaN(cells.marked[at]!),
      });
      if (read.kind !== 'change') return read;
      const { student, item } = c;
      writes.push({ student, item, change: read.change, typed: text, ...seenOf(seen, student, item) });
    }
    return writes;
  }

  /** The same, done. Gives what could not be read, or null. */
  slashSelected(text: string, seen: ReadonlyMap<string, number>): SlashRead | null {
    const writes = this.writesOf(text, seen);
    if (!Array.isArray(writes)) return writes;
    void this.store.changeAll('change', writes);
    return null;
  }

  /** Why this person changes nothing here. */
  private readOnly(): string {
    return this.store.page()?.archived
      ? 'This book is put away: it is read and not changed.'
      : `${this.store.page()?.role === 'reviewer' ? 'A reviewer' : 'The office'} reads this book and does not change it.`;
  }

  keepUnreadable(student: string, item: string, text: string, message: string): void {
    this.unreadable.keep([[cellKey(student, item), { text, message: message }]]);
    this.statusBar.announce(message, 'trouble');
  }

  /** The choice after a clash, for every selected cell that has one. */
  settleClash(whose: 'mine' | 'theirs'): void {
    const troubles = this.store.outbox.troubles();
    const cells = this.view.cells().filter((c) => troubles.get(cellKey(c.student, c.item))?.kind === 'clash');
    if (cells.length === 0)
      return this.statusBar.announce('Nobody else changed this cell: there is nothing to choose.', 'trouble');
    for (const c of cells)
      if (whose === 'mine') void this.store.outbox.insist(c.student, c.item);
      else void this.store.takeTheirs(c.student, c.item);
  }

  /** Comes back to the selected cells later, or is done with them. */
  async toggleSecondLook(): Promise<void> {
    if (!this.store.mayScore()) return this.statusBar.announce(this.readOnly(), 'trouble');
    const cells = this.view.cells();
    const on = !cells.every((c) => this.annotations.noteAt(c.student, c.item).secondLookBy !== null);
    try {
      for (const c of cells) await this.annotations.write(c.student, c.item, { secondLook: on });
      this.statusBar.announce(on ? 'Marked for a second look.' : 'No second look any more.');
    } catch (error) {
      this.statusBar.announce(messageOf(error), 'trouble');
    }
  }

  async step(kind: 'undo' | 'redo'): Promise<void> {
    if (!this.mayWrite()) return;
    this.statusBar.announce(kind === 'undo' ? 'Putting back …' : 'Making again …');
    try {
      const made = await this.store.step(kind);
      this.annotations.put(made.remarks);
      this.statusBar.announce(`${kind === 'undo' ? 'Put back' : 'Made again'}: ${this.whatOf(made)}.`);
    } catch (error) {
      this.statusBar.announce(messageOf(error), 'trouble');
    }
  }

  private whatOf(made: PutBackMade): string {
    if (made.book) return 'a change of the book';
    const [cell] = made.cells;
    const [remark] = made.remarks;
    const at = cell
      ? { student: cell.enrolment, item: cell.assessment }
      : remark && { student: remark.enrolment, item: remark.place };
    if (made.cells.length > 1) return `${made.cells.length} cells${made.title ? ` of ${made.title}` : ''}`;
    if (!at) return 'nothing';
    const title = this.store.assessments().get(at.item)?.title;
    const family = this.store.people().get(at.student)?.family ?? '';
    return `${remark ? 'the note on ' : ''}${family}${title ? `, ${title}` : ''}`;
  }
}
