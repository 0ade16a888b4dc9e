import { Directive, effect, inject, input } from '@angular/core';
import { Table, TableModule } from 'primeng/table';

/** On a table's template: the rows that it is given, so that what is written of one is checked. */
@Directive({ selector: 'ng-template[ltRows]' })
export class Rows<T> {
  readonly ltRows = input.required<readonly T[]>();
  static ngTemplateContextGuard<T>(_rows: Rows<T>, _context: unknown): _context is { $implicit: T; rowIndex: number } {
    return true;
  }
}

/** By what a row is the same row again ("id", "line.seq", "$index"): it stays in the page, with the focus in it. */
@Directive({ selector: 'p-table[rowKey]' })
export class RowKey {
  readonly rowKey = input.required<string>();
  private readonly table = inject(Table);

  constructor() {
    effect(() => {
      const path = this.rowKey().split('.');
      this.table.rowTrackBy = (index: number, row: unknown) =>
        path[0] === '$index' ? index : path.reduce((at: unknown, key) => (at as Record<string, unknown>)[key], row);
    });
  }
}

/** More rows than this are drawn as they are scrolled to. */
export const MANY_ROWS = 200;
/** Then each has this height, in pixels, and stays on one line. */
export const ROW_HEIGHT = 30;

/** What a page with tables imports. */
export const ROWS = [TableModule, Rows, RowKey] as const;
