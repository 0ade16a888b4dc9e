import { ChangeDetectionStrategy, Component, computed, inject, input, resource, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { debounceTime, filter } from 'rxjs';
import type { PlannedReleases } from '@contract/planned-releases';
import { counted, listed } from '@core/words/count';
import { Api, messageOf } from '../data/api';
import { BookStore } from '../data/book';
import { LiveStream } from '../data/live/live-stream';
import { Operations } from '../data/operations';
import { retryFailed } from '../data/retry-failed';
import { StatusBar } from '../ui/layout/status-bar';
import { dayAndTime } from '../ui/text/dates';

/** Milliseconds that news are gathered. */
const GATHERED = 300;

/** Releases that are planned for a moment, to be called off; and those that could not be done, with why. */
@Component({
  selector: 'lt-planned-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (problem()) {
      <p class="problem" role="alert">
        {{ problem() }} <button type="button" class="word" (click)="again()">Try again</button>
      </p>
    }
    @if (rows().length > 0) {
      <h2>Planned</h2>
      <ul>
        @for (r of rows(); track r.id) {
          <li>
            <b>{{ r.when }}</b>
            <span>{{ r.what }}</span>
            <span class="quiet">{{ r.whom }}, by {{ r.by }}</span>
            @if (r.fault) {
              <span class="problem">Not done: {{ r.fault }}</span>
            }
            @if (store.mayManage()) {
              <button type="button" class="word" [disabled]="busy()" (click)="callOff(r.id, r.fault !== '')">
                {{ r.fault ? 'take off the list' : 'call off' }}<span class="unseen"> {{ r.what }}, {{ r.when }}</span>
              </button>
            }
          </li>
        }
      </ul>
    }
  `,
  styles: `
    h2 {
      margin: 14px 0 6px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      display: grid;
      gap: 10px;
    }
    li {
      display: grid;
      justify-items: start;
      overflow-wrap: anywhere;
    }
  `,
})
export class PlannedList {
  /** Grows when something was planned here. */
  readonly turn = input(0);
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  private readonly heard = signal(0);
  protected readonly busy = signal(false);
  private readonly failure = signal('');
  private readonly list = resource({
    // The same address once more keeps what was there until its answer has come: a line does not go from under a click.
    params: () => {
      this.turn();
      this.heard();
      return this.store.id() ? `/books/${encodeURIComponent(this.store.id())}/planned-releases` : undefined;
    },
    loader: ({ params }) => this.api.get<PlannedReleases>(params),
  });
  protected readonly problem = computed(
    () => this.failure() || (this.list.error() ? messageOf(this.list.error()) : ''),
  );
  protected readonly rows = computed(() => {
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return (this.list.hasValue() ? (this.list.value() ?? []) : []).map((r) => ({
      ...{ id: r.id, by: r.by, fault: r.fault, when: r.at === null ? 'when all are done' : dayAndTime(r.at, zone) },
      what: `${this.store.assessments().get(r.assessment)?.title ?? 'an assessment'}: ${listed(r.parts)}`,
      whom: `to ${r.students === null ? 'everybody' : counted(r.students, 'student')}`,
    }));
  });

  constructor() {
    retryFailed(this.list);
    // What others plan, and what is done meanwhile.
    inject(LiveStream)
      .events.pipe(
        filter((e) => ['beside', 'slip', 'cells', 'hello'].includes(e.kind)),
        debounceTime(GATHERED),
        takeUntilDestroyed(),
      )
      .subscribe(() => this.again());
  }

  protected again(): void {
    this.failure.set('');
    this.heard.update((n) => n + 1);
  }

  protected async callOff(id: string, failed: boolean): Promise<void> {
    this.busy.set(true);
    try {
      const path = `/books/${encodeURIComponent(this.store.id())}/planned-releases/${id}`;
      await this.operations.submit('DELETE', path, {});
      if (!failed) this.statusBar.announce('Called off: nothing is released then.');
      this.again();
    } catch (error) {
      this.failure.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
