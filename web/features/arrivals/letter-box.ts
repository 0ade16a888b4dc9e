import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { Dialog } from 'primeng/dialog';
import { InputText } from 'primeng/inputtext';
import { MultiSelect } from 'primeng/multiselect';
import { Textarea } from 'primeng/textarea';
import { counted, formOf } from '@core/words/count';
import { fillLetter, LETTER_PLACES, unknownPlaces, type LetterPlace } from '@core/work/letter-places';
import type { Letters, LetterWritten } from '@contract/mail';
import { messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { KeptDrafts } from '../../data/kept-drafts';
import { Operations } from '../../data/operations';
import { StatusBar } from '../../ui/layout/status-bar';
import { dayAndTime } from '../../ui/text/dates';
import type { ArrivalRow } from '../../data/work/arrival-rows';
import { BLANK, recipientsOf, REMINDER } from './letter-draft';

const PLACE_WORDS: Record<LetterPlace, string> = {
  given: 'their first name',
  family: 'their family name',
  assessment: 'the assessment',
  due: 'their due date',
};

/** Words to students of a book: to whom, which, and how the first of them will read it. Ctrl+Enter sends them, once. */
@Component({
  selector: 'lt-letter-box',
  host: { '(document:keydown.control.enter)': 'open() && send()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, Dialog, FormsModule, InputText, MultiSelect, Textarea],
  template: `
    <p-dialog
      header="Write to students"
      [modal]="true"
      closeAriaLabel="Leave it"
      [visible]="open()"
      (visibleChange)="$event || left.emit()"
      [style]="{ width: '44rem' }"
      [focusOnShow]="false"
      (onShow)="words.focus()"
    >
      <div class="form">
        <label for="letter-to">To</label>
        <div>
          <p-multiselect
            inputId="letter-to"
            ariaLabel="To whom"
            [options]="who().groups"
            [group]="true"
            optionGroupChildren="items"
            optionGroupLabel="label"
            optionLabel="label"
            optionValue="id"
            filterBy="name"
            [filter]="true"
            placeholder="Nobody yet"
            [maxSelectedLabels]="0"
            [selectedItemsLabel]="toWords()"
            [fluid]="true"
            [ngModel]="to()"
            (ngModelChange)="to.set($event)"
          />
          @if (leftOut()) {
            <small class="quiet">{{ leftOut() }}</small>
          }
        </div>
        <label for="letter-subject">Subject</label>
        <input
          pInputText
          id="letter-subject"
          type="text"
          maxlength="200"
          [value]="subject()"
          (input)="type($any($event.target).value, body())"
        />
        <label for="letter-body">Words</label>
        <div>
          <textarea
            pTextarea
            #words
            id="letter-body"
            rows="7"
            maxlength="5000"
            [value]="body()"
            (input)="type(subject(), $any($event.target).value)"
          ></textarea>
          <small class="quiet">
            filled in for each:
            @for (p of PLACES; track p) {
              <button type="button" class="word" (click)="put(p, words)">{{ PLACE_WORDS[p] }}</button>
            }
          </small>
        </div>
        @if (sample(); as s) {
          <span class="quiet">{{ s.name }} reads</span>
          <blockquote>
            <b>{{ s.subject }}</b>
            <p>{{ s.body }}</p>
          </blockquote>
        }
        @if (problem()) {
          <p class="problem" role="alert">{{ problem() }}</p>
        }
      </div>
      <ng-template #footer>
        <p-button
          [label]="to().length === 0 ? 'Send' : 'Send to ' + to().length"
          [disabled]="lacks() !== ''"
          [loading]="busy()"
          (onClick)="send()"
        />
        <p-button label="Leave it" [text]="true" (onClick)="left.emit()" />
        <span class="quiet lacks">{{ lacks() || 'Here and by mail, once each. Ctrl+Enter sends it.' }}</span>
      </ng-template>
    </p-dialog>
  `,
  styles: `
    .form {
      display: grid;
      grid-template-columns: 70px minmax(0, 1fr);
      gap: 10px 14px;
      align-items: start;
    }
    label,
    .form > .quiet {
      padding-top: 7px;
      color: var(--pencil);
    }
    input,
    textarea {
      width: 100%;
    }
    small {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 10px;
      margin-top: 4px;
    }
    blockquote {
      margin: 0;
      padding: 8px 12px;
      border-left: 3px solid var(--rule);
      background: var(--bar);
      white-space: pre-line;
      overflow-wrap: anywhere;
      max-height: 11em;
      overflow: auto;
    }
    .problem {
      grid-column: 1 / -1;
    }
    p-button {
      flex: none;
      white-space: nowrap;
    }
    .lacks {
      align-self: center;
    }
    @media (max-width: 600px) {
      .form {
        grid-template-columns: minmax(0, 1fr);
        gap: 4px;
      }
    }
  `,
})
export class LetterBox {
  readonly open = input.required<boolean>();
  /** To these at first; empty: to all who have nothing in. */
  readonly chosen = input<readonly string[]>([]);
  readonly rows = input.required<readonly ArrivalRow[]>();
  readonly letters = input.required<Letters>();
  readonly assessment = input.required<string>();
  readonly title = input.required<string>();
  readonly zone = input('UTC');
  readonly asOf = input.required<string>();
  readonly left = output<void>();
  readonly sent = output<void>();
  protected readonly PLACES = LETTER_PLACES;
  protected readonly PLACE_WORDS = PLACE_WORDS;
  private readonly store = inject(BookStore);
  private readonly operations = inject(Operations);
  private readonly drafts = inject(KeptDrafts);
  private readonly statusBar = inject(StatusBar);
  protected readonly to = signal<string[]>([]);
  protected readonly subject = signal('');
  protected readonly body = signal('');
  protected readonly busy = signal(false);
  protected readonly problem = signal('');

  protected readonly who = computed(() => recipientsOf(this.rows(), this.letters(), this.asOf()));
  protected readonly toWords = computed(() => {
    const [first] = this.to();
    const name = this.rows().find((r) => r.enrolment === first)?.name;
    return this.to().length === 1 && name ? name : counted(this.to().length, 'student');
  });
  protected readonly leftOut = computed(() => {
    const n = this.who().lately.filter((id) => !this.to().includes(id)).length;
    return n === 0 || this.chosen().length > 0
      ? ''
      : `${counted(n, 'student')} more with nothing in ${formOf(n, 'was', 'were')} written to in the last day and ${formOf(n, 'is', 'are')} left out; tick ${formOf(n, 'it', 'them')} to write again.`;
  });
  protected readonly lacks = computed(() => {
    if (this.to().length === 0) return 'Choose to whom.';
    if (this.subject().trim() === '') return 'It has no subject.';
    if (this.body().trim() === '') return 'It has no words.';
    const unknown = unknownPlaces(`${this.subject()} ${this.body()}`);
    return unknown.length === 0 ? '' : `{${unknown[0]}} cannot be filled in.`;
  });
  protected readonly sample = computed(() => {
    const row = this.rows().find((r) => r.enrolment === this.to()[0]);
    const person = row && this.store.people().get(row.enrolment);
    if (!row || !person) return null;
    const nameless = this.store.veiled() !== '';
    const values = {
      // Where names are hidden they are filled in once it is sent.
      given: nameless ? '{given}' : person.given || person.family,
      family: nameless ? '{family}' : person.family,
      assessment: this.title(),
      due: row.due === null ? 'no date' : dayAndTime(row.due, this.zone()),
    };
    return {
      name: person.given || person.family,
      subject: fillLetter(this.subject(), values),
      body: fillLetter(this.body(), values),
    };
  });

  constructor() {
    effect(() => {
      if (this.open()) untracked(() => this.begin());
    });
  }

  private get place(): string {
    return `letter ${this.store.id()} ${this.assessment()} ${this.chosen().join(' ')}`;
  }

  private begin(): void {
    const some = this.chosen().length > 0;
    const { subject, body } =
      this.drafts.read<{ subject: string; body: string }>(this.place) ?? (some ? BLANK : REMINDER);
    this.subject.set(subject);
    this.body.set(body);
    this.to.set(some ? [...this.chosen()] : this.who().nothing);
    this.problem.set('');
  }

  protected type(subject: string, body: string): void {
    this.subject.set(subject);
    this.body.set(body);
    this.drafts.keep(this.place, { subject, body });
  }

  /** Puts what differs from student to student in where the words stand. */
  protected put(place: LetterPlace, box: HTMLTextAreaElement): void {
    const [from, to] = [box.selectionStart, box.selectionEnd];
    const word = `{${place}}`;
    box.setRangeText(word, from, to, 'end');
    this.type(this.subject(), box.value);
    box.focus();
  }

  protected async send(): Promise<void> {
    if (this.lacks() !== '' || this.busy()) return;
    this.busy.set(true);
    this.problem.set('');
    try {
      const { written } = await this.operations.submit<LetterWritten>('POST', `/books/${this.store.id()}/letters`, {
        ...{ assessment: this.assessment(), enrolments: this.to() },
        ...{ subject: this.subject().trim(), body: this.body().trim() },
      });
      this.drafts.keep(this.place, null);
      this.statusBar.announce(`Written to ${counted(written, 'student')}; it goes by mail as well.`);
      this.sent.emit();
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
