import { inject, Injectable } from '@angular/core';
import { counted } from '@core/words/count';
import { StatusBar } from '../../../ui/layout/status-bar';
import { inDecimals } from '../../../ui/text/locale';
import { LedgerView } from '../view/ledger-view';
import { CellTexts } from './cell-texts';
import { toClipboard } from './paste';

/** The block as it was marked, beside the text that other programs take. */
export const OWN_TYPE = 'application/x-last-tally-cells';

/** Puts the selected cells on the clipboard. */
@Injectable()
export class LedgerCopying {
  private readonly view = inject(LedgerView);
  private readonly store = this.view.store;
  private readonly texts = inject(CellTexts);
  private readonly statusBar = inject(StatusBar);

  /** The selected rows, each with the text of its selected columns. */
  private block(text: (s: number, item: string) => string): string[][] {
    const { top, bottom, left, right } = this.view.selection();
    return this.view
      .rows()
      .slice(top, bottom + 1)
      .map((s) =>
        Array.from({ length: right - left + 1 }, (_, c) => {
          const item = this.view.itemAt(left + c);
          if (item !== null) return text(s, item);
          const column = this.view.layout()[left + c];
          if (column?.kind === 'criterion')
            return inDecimals(this.view.criteria.text(column.of, column.criterion, this.store.students()[s]!));
          if (column?.kind !== 'total') return this.store.standings()[s]?.percent ?? '';
          const total = this.view.totals().get(column.category)?.[s] ?? NaN;
          return Number.isNaN(total) ? '' : inDecimals(total.toFixed(2));
        }),
      );
  }

  copy(data: DataTransfer): void {
    const shown = this.block((s, item) => this.texts.shown(s, item));
    data.setData('text/plain', toClipboard(shown));
    data.setData(OWN_TYPE, JSON.stringify(this.block((s, item) => this.texts.typed(s, item))));
    const cells = shown.length * (shown[0]?.length ?? 0);
    this.statusBar.announce(`${counted(cells, 'cell is', 'cells are')} copied. /copy copies names and headings too.`);
  }

  /** For a spreadsheet: who, and what the columns are, beside the cells. */
  copyNamed(data: DataTransfer): void {
    const { top, left, right } = this.view.selection();
    const headings = Array.from({ length: right - left + 1 }, (_, c) => this.headingAt(left + c));
    const rows = this.block((s, item) => this.texts.shown(s, item)).map((cells, r) => {
      const person = this.store.people().get(this.store.students()[this.view.rows()[top + r]!]!);
      const section = person?.section ? (this.store.sections().get(person.section) ?? '') : '';
      return [person?.number ?? '', person?.family ?? '', person?.given ?? '', section, ...cells];
    });
    data.setData(
      'text/plain',
      toClipboard([['Student number', 'Family name', 'Given name', 'Section', ...headings], ...rows]),
    );
    this.statusBar.announce(`${counted(rows.length, 'row is', 'rows are')} copied with names and headings.`);
  }

  private headingAt(col: number): string {
    const item = this.view.itemAt(col);
    if (item !== null) {
      const assessment = this.store.assessments().get(item);
      return assessment ? `${assessment.title} (of ${assessment.points})` : '';
    }
    const column = this.view.layout()[col];
    if (column?.kind === 'criterion') return this.view.criterionTitle(column);
    return column?.kind === 'total' ? `${this.view.titleOf(column.category)}, percent` : 'Percent';
  }
}
