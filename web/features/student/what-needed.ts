import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, resource, signal } from '@angular/core'; // prettier-ignore
import type { OwnDocument, StudentBook } from '@contract/statements';
import { Api, messageOf } from '../../data/api';
import { retryFailed } from '../../data/retry-failed';
import { Choice } from '../../ui/form/choice';
import { WorkingLines } from '../../ui/text/working-lines';
import { FIND_NEEDS } from '../../worker/needs-client';

/** What a letter would need of what is still open, worked out from what is released to the student and nothing else. */
@Component({
  selector: 'lt-what-needed',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, WorkingLines],
  template: `
    @if (letters().length > 0) {
      <p>
        <button type="button" class="word" [attr.aria-expanded]="open()" (click)="open.set(!open())">
          {{ open() ? 'hide what would be needed' : 'what would I need' }}
        </button>
      </p>
    }
    @if (open()) {
      <p>
        For
        <lt-choice label="For which letter" [value]="letter()" [options]="options()" (chosen)="letter.set($event)" />
      </p>
      @if (problem()) {
        <p class="problem" role="alert">
          {{ problem() }}
          <button type="button" class="word" (click)="document.reload(); needs.reload()">Try again</button>
        </p>
      } @else if (lines(); as found) {
        @if (found.length === 0) {
          <p class="quiet">Nothing is open any more that could change it.</p>
        } @else {
          <lt-working-lines [lines]="found" />
        }
        <p class="quiet">Worked out from what is released to you, by the rules of today’s standing.</p>
      } @else {
        <p class="quiet">It is worked out …</p>
      }
    }
  `,
  styles: `
    p {
      margin: 0 0 8px;
    }
  `,
})
export class WhatNeeded {
  readonly page = input.required<StudentBook>();
  /** Staff look as this student; null: it is one's own. */
  readonly enrolment = input<string | null>(null);
  private readonly api = inject(Api);
  private readonly find = inject(FIND_NEEDS);
  protected readonly open = signal(false);
  /** All but the lowest, which everybody reaches; the highest first. */
  protected readonly letters = computed(() => (this.page().standing?.scale ?? []).slice(0, -1).map((b) => b.label));
  protected readonly options = computed(() => this.letters().map((value) => ({ value, text: value })));
  /** The next above today's. */
  protected readonly letter = linkedSignal(() => {
    const letters = this.letters();
    const now = letters.indexOf(this.page().standing?.letter ?? '');
    return now < 0 ? (letters.at(-1) ?? '') : letters[Math.max(0, now - 1)]!;
  });
  protected readonly document = resource({
    params: () =>
      this.open() ? { book: this.page().book, enrolment: this.enrolment(), at: this.page().asOf } : undefined,
    loader: ({ params: { book, enrolment } }) =>
      this.api.get<OwnDocument>(
        enrolment === null
          ? `/my/books/${encodeURIComponent(book)}/document`
          : `/books/${encodeURIComponent(book)}/as-student/${encodeURIComponent(enrolment)}/document`,
      ),
  });
  protected readonly needs = resource({
    params: () => {
      const own = this.document.hasValue() ? this.document.value() : undefined;
      return own ? { own, letter: this.letter() } : undefined;
    },
    loader: ({ params: { own, letter } }) =>
      own.document === null ? Promise.resolve([]) : this.find({ document: own.document, titles: own.titles, letter }),
  });
  protected readonly lines = computed(() => (this.needs.hasValue() ? (this.needs.value() ?? null) : null));
  protected readonly problem = computed(() => {
    const error = this.document.error() ?? this.needs.error();
    return error ? messageOf(error) : '';
  });

  constructor() {
    retryFailed(this.document);
  }
}
