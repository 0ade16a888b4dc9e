import { counted } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, inject, resource } from '@angular/core';
import { dayAndTime } from '../../ui/text/dates';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { TableModule } from 'primeng/table';
import type { Office } from '@contract/overview';
import { Api, messageOf } from '../../data/api';
import { StatusBar } from '../../ui/layout/status-bar';
import { retryFailed } from '../../data/retry-failed';
import { sessionFeature } from '../../data/session';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { ticksInWords, TickRail } from '../../ui/chart/tick-rail';
import { FailedJobsList } from './failed-jobs';
import { UndeliveredMail } from './undelivered-mail';
import { OfficePeople } from './office-people';

/** The administrator's first page: all books of the term and how far each is. */
@Component({
  selector: 'lt-office',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, TableModule, TickRail, OfficePeople, FailedJobsList, UndeliveredMail],
  template: `
    <main class="sheet">
      <h1>{{ page()?.term ?? 'Office' }}</h1>
      <p class="quiet">{{ message() }}</p>
      @if (problem()) {
        <p class="problem" role="alert">
          {{ problem() }} <button type="button" class="word" (click)="office.reload()">Try again</button>
        </p>
      }
      <lt-office-people />
      <!-- Below what is typed into: it comes a moment later, and would push that away. -->
      <lt-failed-jobs />
      <lt-undelivered-mail />
      @if (page(); as p) {
        <p-table [value]="p.books" [sortField]="'title'" [sortOrder]="1" [tableStyle]="{ 'min-width': '60rem' }">
          <ng-template #header>
            <tr>
              <th pSortableColumn="title">Book <p-sortIcon field="title" /></th>
              <th>Teachers</th>
              <th pSortableColumn="students" class="right">Students <p-sortIcon field="students" /></th>
              <th>The work</th>
              <th pSortableColumn="marked" class="right">Settled <p-sortIcon field="marked" /></th>
              <th pSortableColumn="toMark" class="right">To mark <p-sortIcon field="toMark" /></th>
              <th pSortableColumn="drafts" class="right">Drafts <p-sortIcon field="drafts" /></th>
              <th>Last change</th>
            </tr>
          </ng-template>
          <ng-template #body let-b>
            <tr>
              <td>
                <a class="word" [routerLink]="['/book', b.id, 'ledger']">{{ b.title }}</a>
              </td>
              <td>{{ b.teachers.join(', ') }}</td>
              <td class="right mono">{{ b.faulty ? '' : b.students }}</td>
              <td class="rail">
                @if (b.faulty) {
                  <small class="red">cannot be read as it is kept</small>
                } @else {
                  <lt-tick-rail [counts]="b.ticks" [most]="40" /><small class="quiet">{{ words(b.ticks) }}</small>
                }
              </td>
              <td class="right mono">{{ b.faulty ? '' : b.marked + ' %' }}</td>
              <td class="right mono" [class.blue]="b.toMark > 0">{{ b.faulty ? '' : b.toMark }}</td>
              <td class="right mono">{{ b.faulty ? '' : b.drafts }}</td>
              <td class="quiet">{{ when(b.lastChange) }}</td>
            </tr>
          </ng-template>
          <ng-template #emptymessage>
            <tr>
              <td colspan="8" class="quiet">
                No book is made yet. Books that the office makes stand here, with how far each is.
              </td>
            </tr>
          </ng-template>
        </p-table>
      }
    </main>
  `,
  styles: `
    :host {
      display: grid;
      padding: 16px 16px 0;
      min-height: 0;
    }
    main {
      padding: 22px 28px;
      overflow: auto;
    }
    p-table {
      display: block;
      margin-top: 16px;
    }
    .right {
      text-align: right;
    }
    .rail {
      min-width: 190px;
    }
    th {
      white-space: nowrap;
    }
    small {
      font-size: 11px;
      display: block;
      margin-top: 3px;
    }
    @media (max-width: 600px) {
      :host {
        padding: 0;
      }
      main {
        padding: 14px 12px;
      }
    }
  `,
})
export class OfficePage {
  private readonly api = inject(Api);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  protected readonly office = resource({ loader: () => this.api.get<Office>('/office') });
  protected readonly page = computed(() => (this.office.hasValue() ? this.office.value() : null));
  protected readonly problem = computed(() => (this.office.error() ? messageOf(this.office.error()) : ''));
  protected readonly words = ticksInWords;
  protected readonly message = computed(() => {
    const books = this.page()?.books;
    if (!books) return ' ';
    const sum = (pick: 'toMark' | 'drafts'): number => books.reduce((n, b) => n + b[pick], 0);
    return `${counted(books.length, 'book')}; ${counted(sum('toMark'), 'piece', 'pieces')} of work to mark, ${counted(sum('drafts'), 'draft')} not released.`;
  });

  constructor() {
    retryFailed(this.office);
    inject(Breadcrumbs).set(this.me()?.school ?? '', 'Office');
    inject(StatusBar).setIdle('The office reads every book.');
  }

  protected when(at: string | null): string {
    return at === null ? 'none yet' : dayAndTime(at, Intl.DateTimeFormat().resolvedOptions().timeZone);
  }
}
