import { ChangeDetectionStrategy, Component, effect, inject, input, output, signal } from '@angular/core';
import { Decimals } from '../../ui/text/decimals';
import { Counted } from '../../ui/text/counted';
import { ROWS } from '../../ui/layout/rows';
import { RouterLink } from '@angular/router';
import type { Between as Answer } from '@contract/history';
import { Api, messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { contentWords, type Names } from '../../ui/text/journal/journal-words';

/** What differs in a book between two lines of its journal: cells, rules, and who stands where. */
@Component({
  selector: 'lt-between',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals, Counted, ROWS, RouterLink],
  template: `
    <div class="sheet">
      <div class="page-head">
        <h1>Between line {{ from() }} and line {{ to() }}</h1>
        <button type="button" class="word" (click)="left.emit()">back to the journal</button>
        <a class="word" [routerLink]="['/book', store.id(), 'ledger']" [queryParams]="{ stood: from() }"
          >the book at line {{ from() }}</a
        >
        <a class="word" [routerLink]="['/book', store.id(), 'ledger']" [queryParams]="{ stood: to() }"
          >the book at line {{ to() }}</a
        >
      </div>
      @if (problem()) {
        <p class="problem" role="alert">{{ problem() }}</p>
      } @else if (answer(); as a) {
        @if (a.cells.length + a.standings.length + a.assessments.length === 0 && !a.rules) {
          <p>Nothing of the scores, the rules or the standings is different.</p>
        }
        @if (a.rules) {
          <p class="notice">The rules are not the same.</p>
        }
        @if (a.assessments.length > 0) {
          <p class="notice">Assessments made or changed: {{ titles(a) }}.</p>
        }
        <div class="two">
          @if (a.standings.length > 0) {
            <section>
              <h2>{{ a.standings.length }} stand elsewhere</h2>
              <p-table [value]="$any(a.standings)" rowKey="enrolment" tableStyleClass="plain">
                <ng-template #body let-s [ltRows]="a.standings">
                  <tr>
                    <td>{{ names().student(s.enrolment) }}</td>
                    <td class="right mono quiet">{{ (s.before | decimals) || '–' }} {{ s.letterBefore }}</td>
                    <td class="right mono">
                      <b>{{ (s.after | decimals) || '–' }} {{ s.letterAfter }}</b>
                    </td>
                  </tr>
                </ng-template>
              </p-table>
            </section>
          }
          @if (a.cells.length > 0) {
            <section>
              <h2>{{ a.cellsInAll | counted: 'cell is' : 'cells are' }} different</h2>
              <p-table [value]="$any(a.cells)" rowKey="$index" tableStyleClass="plain">
                <ng-template #body let-c [ltRows]="a.cells">
                  <tr>
                    <td>{{ names().student(c.enrolment) }}, {{ names().assessment(c.assessment) }}</td>
                    <td class="quiet">{{ words(c.was) }}</td>
                    <td>
                      <b>{{ words(c.becomes) }}</b>
                    </td>
                  </tr>
                </ng-template>
              </p-table>
              @if (a.cellsInAll > a.cells.length) {
                <p class="quiet">and {{ a.cellsInAll - a.cells.length }} more; the two books above hold them all</p>
              }
            </section>
          }
        </div>
      } @else {
        <p class="quiet">Laying the two beside each other …</p>
      }
    </div>
  `,
  styles: `
    .sheet {
      height: 100%;
      overflow: auto;
      padding: 20px 28px;
    }
    .page-head {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 20px;
      align-items: baseline;
      margin-bottom: 16px;
    }
    .two {
      display: flex;
      flex-wrap: wrap;
      gap: 24px 48px;
      align-items: start;
    }
    section {
      flex: 1 1 340px;
      min-width: 0;
    }
    h2 {
      margin: 8px 0;
    }
    .notice {
      margin-bottom: 10px;
    }
  `,
})
export class Between {
  readonly from = input.required<string>();
  readonly to = input.required<string>();
  readonly names = input.required<Names>();
  readonly left = output<void>();
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  protected readonly answer = signal<Answer | null>(null);
  protected readonly problem = signal('');

  constructor() {
    effect((onCleanup) => {
      const query = new URLSearchParams({ from: this.from(), to: this.to() });
      const book = this.store.id();
      if (book === '') return;
      let gone = false;
      onCleanup(() => (gone = true));
      this.answer.set(null);
      this.api.get<Answer>(`/books/${book}/between?${query}`).then(
        (a) => gone || this.answer.set(a),
        (error: unknown) => gone || this.problem.set(messageOf(error)),
      );
    });
  }

  protected words(text: string | null): string {
    return contentWords(text, this.names().zone);
  }

  protected titles(a: Answer): string {
    return a.assessments.map((id) => this.names().assessment(id)).join(', ');
  }
}
