import { inject, Injectable } from '@angular/core';
import { scoresCsv, type ScoresFile } from '@core/export/scores';
import { counted } from '@core/words/count';
import { fileName, save } from '../../../ui/chart/picture-file';
import { StatusBar } from '../../../ui/layout/status-bar';
import { dayAndTime } from '../../../ui/text/dates';
import { FLAG, STATES } from '../../../worker/protocol';
import { CellTexts } from '../clipboard/cell-texts';
import type { Column } from '../grid/layout';
import { LedgerView } from '../view/ledger-view';

/** What the ledger shows, as a file for other programs. */
@Injectable()
export class LedgerFile {
  private readonly view = inject(LedgerView);
  private readonly texts = inject(CellTexts);
  private readonly statusBar = inject(StatusBar);
  private readonly store = this.view.store;

  /** Saves what is listed as a file, as it is shown; of one assessment alone where all of its cells are selected. */
  save(): void {
    const page = this.store.page()!;
    const { top, bottom, left, right } = this.view.selection();
    const rows = this.view.rows();
    const only = left === right && top === 0 && bottom === rows.length - 1 ? this.view.itemAt(left) : null;
    const shown = this.view.layout().filter((c) => c.kind !== 'total');
    const columns =
      only === null || rows.length === 1
        ? shown
        : shown.filter((c) => (c.kind === 'item' ? c.id === only : c.of === only));
    const items = columns.flatMap((c) => (c.kind === 'item' ? [c.id] : []));
    const sections = this.store.sections();
    const scale = this.store.rules()?.shown;
    const text = scoresCsv({
      book: page.title,
      term: page.term,
      asOf: dayAndTime(page.asOf, page.timeZone),
      asMarked: this.view.asMarked(),
      leftOut: this.store.leftOut(),
      shownLabel: scale ? (scale.label ?? '') : null,
      inAll: this.store.students().length,
      columns: columns.map((c) => this.headOf(c)),
      students: rows.map((s) => {
        const person = this.store.people().get(this.store.students()[s]!)!;
        const standing = this.store.standings()[s];
        return {
          ...{ number: person.number, family: person.family, given: person.given },
          section: sections.get(person.section ?? '') ?? '',
          cells: columns.map((c) =>
            c.kind === 'item'
              ? this.savedText(s, c.id)
              : this.view.criteria.text(c.of, c.criterion, this.store.students()[s]!),
          ),
          percent: standing?.percent ?? null,
          letter: standing?.letter ?? null,
          shown: standing?.shown ?? null,
        };
      }),
    });
    const title = only !== null && items.length === 1 ? this.store.assessments().get(only)!.title : 'scores';
    save(fileName(`${page.title} ${title}`, 'csv'), new Blob([text], { type: 'text/csv;charset=utf-8' }));
    this.statusBar.announce(`Saved: ${counted(rows.length, 'student')}, ${counted(items.length, 'assessment')}.`);
  }

  private headOf(c: Exclude<Column, { kind: 'total' }>): ScoresFile['columns'][number] {
    if (c.kind === 'criterion') return { title: this.view.criterionTitle(c), isCriterion: true };
    const { title, points } = this.store.assessments().get(c.id)!;
    return { title: `${title} (of ${points})`, isCriterion: false };
  }

  /** A cell for a file: a figure with a point, whatever the person writes, or a state as a word. */
  private savedText(s: number, item: string): string {
    const cells = this.store.cells()!;
    const at = this.store.at(s, this.store.itemIndex().get(item)!);
    if (cells.flags[at]! & FLAG.hidden) return 'hidden until shown';
    const state = STATES[cells.state[at]!]!;
    if (state === 'pending') return 'to mark';
    if (state === 'missing') return 'missing';
    if (state !== 'scored' && state !== 'set') return this.texts.typed(s, item);
    const marked = cells.marked[at]!;
    return String(this.view.asMarked() && !Number.isNaN(marked) ? marked / 10_000 : cells.counts[at]! / 100);
  }
}
