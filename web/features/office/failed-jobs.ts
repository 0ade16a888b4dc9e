import { counted } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, inject, resource, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { FailedJobs, JobName } from '@contract/jobs';
import { Api, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { StatusBar } from '../../ui/layout/status-bar';
import { dayAndTime } from '../../ui/text/dates';

/** What each kind of job does, as the office reads it. */
const WORDS: Record<JobName, string> = {
  'policy-rollout': 'Bring the school’s rules to its books',
  'journal-seal': 'Seal the journal',
  'exception-ends': 'End exceptions whose day has come',
  'book-summary': 'Work out where the book stands',
  forgetting: 'Forget what is no longer needed',
  files: 'Let go of files that broke off',
  mail: 'Send what waits by mail',
  'gathered-mail': 'Write to teachers what came in',
  'planned-release': 'Release what was planned for a moment',
  'marks-rest': 'Write into the journal what marks on the work came to rest',
  'feedback-rests': 'Write into the journal what feedback came to rest',
  calculation: 'Work the book out by the newer calculation, and say whom it moves',
};

/** What the server could not do by itself, after all its tries; nothing where all is well. */
@Component({
  selector: 'lt-failed-jobs',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `
    @if (list().length > 0) {
      <section aria-labelledby="failed-title">
        <h2 id="failed-title">{{ title() }}</h2>
        <ul>
          @for (job of list(); track job.id) {
            <li>
              <span>
                {{ words[job.kind] }}
                @if (job.book; as book) {
                  · <a class="word" [routerLink]="['/book', book.id, 'ledger']">{{ book.title }}</a>
                }
              </span>
              <span class="quiet">tried {{ times(job.tries) }}, last {{ when(job.failedAt) }}. {{ job.message }}</span>
              <span class="acts">
                <button type="button" class="word" [disabled]="busy()" (click)="act('POST', job.id, '/retry')">
                  try it again
                </button>
                <button type="button" class="word" [disabled]="busy()" (click)="act('DELETE', job.id, '')">
                  take it off this list
                </button>
              </span>
            </li>
          }
        </ul>
      </section>
    }
  `,
  styleUrl: './trouble-list.css',
})
export class FailedJobsList {
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  private readonly jobs = resource({ loader: () => this.api.get<FailedJobs>('/failed-jobs') });
  protected readonly list = computed(() => (this.jobs.hasValue() ? this.jobs.value() : []));
  protected readonly title = computed(
    () => `${counted(this.list().length, 'thing')} could not be done by the server itself`,
  );
  protected readonly busy = signal(false);
  protected readonly words = WORDS;

  protected times(tries: number): string {
    return tries === 1 ? 'once' : `${tries} times`;
  }

  protected when(at: string): string {
    return dayAndTime(at, Intl.DateTimeFormat().resolvedOptions().timeZone);
  }

  protected async act(method: 'POST' | 'DELETE', id: string, then: string): Promise<void> {
    this.busy.set(true);
    try {
      await this.operations.submit(method, `/failed-jobs/${id}${then}`, {});
      this.statusBar.announce(method === 'POST' ? 'It is being tried again.' : 'Taken off the list.');
    } catch (error) {
      this.statusBar.announce(messageOf(error), 'trouble');
    } finally {
      this.busy.set(false);
      this.jobs.reload();
    }
  }
}
