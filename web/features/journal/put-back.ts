import { counted } from '@core/words/count';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  type OnInit,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { Counted } from '../../ui/text/counted';
import { ROWS } from '../../ui/layout/rows';
import { InputText } from 'primeng/inputtext';
import { Button } from 'primeng/button';
import { Dialog } from 'primeng/dialog';
import type { JournalSet, PutBackLine, PutBackMade, PutBackPreview, PutBackWrite } from '@contract/history';
import { Api, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { dayAndTime } from '../../ui/text/dates';
import { lineWords, type Names } from '../../ui/text/journal/journal-words';

/** Lines that are shown at most; the rest is a number. */
const SHOWN = 40;

/** What putting a change back would do, what stands on it since, and the button that does it. */
@Component({
  selector: 'lt-put-back',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ROWS, Counted, InputText, Dialog, Button],
  template: `
    <p-dialog
      header="Put back"
      [modal]="true"
      closeAriaLabel="Leave it"
      [visible]="true"
      [focusOnShow]="false"
      (onShow)="entered.set(true)"
      (visibleChange)="$event || left.emit()"
      [style]="{ width: '44rem' }"
    >
      <p>
        <b>{{ message() }}</b>, {{ when() }}, {{ set().by }}
      </p>
      @if (problem()) {
        <p class="problem" role="alert">{{ problem() }}</p>
      }
      @if (preview()) {
        @if (later().length > 0) {
          <p class="notice">
            {{
              later().length === lines().length
                ? 'Later changes stand on all of it'
                : later().length + ' of ' + (lines().length | counted: 'line') + ' have later changes'
            }}; nothing of that is touched:
          </p>
          <p-table [value]="$any(laterShown())" rowKey="seq" tableStyleClass="plain later">
            <ng-template #body let-l [ltRows]="laterShown()">
              <tr>
                <td>{{ where(l) }}</td>
                <td>{{ nowWords(l) }}</td>
                <td class="quiet">{{ laterWords(l) }}</td>
              </tr>
            </ng-template>
          </p-table>
          @if (later().length > shown) {
            <p class="quiet">and {{ later().length - shown }} more</p>
          }
        }
        @if (free().length > 0) {
          <h3>{{ free().length === 1 ? 'This would be again' : free().length + ' would be again' }}</h3>
          <p-table [value]="$any(freeShown())" rowKey="seq" tableStyleClass="plain">
            <ng-template #header
              ><tr>
                <th><span class="unseen">Where</span></th>
                <th>now</th>
                <th>then</th>
              </tr></ng-template
            >
            <ng-template #body let-l [ltRows]="freeShown()">
              <tr>
                <td>{{ where(l) }}</td>
                <td class="quiet">{{ nowWords(l) }}</td>
                <td>
                  <b>{{ thenWords(l) }}</b>
                </td>
              </tr>
            </ng-template>
          </p-table>
          @if (free().length > shown) {
            <p class="quiet">and {{ free().length - shown }} more</p>
          }
          <div class="why">
            <label for="put-back-why">Why (stands in the journal)</label>
            <input pInputText #why id="put-back-why" type="text" maxlength="300" (keydown.enter)="putBack()" />
          </div>
        }
      } @else if (!problem()) {
        <p class="quiet">Looking at what stands on it …</p>
      }
      <ng-template #footer>
        @if (free().length > 0) {
          <p-button [label]="buttonWords()" [disabled]="busy()" (onClick)="putBack()" />
        }
        <p-button #leave label="Leave it" [text]="true" (onClick)="left.emit()" />
      </ng-template>
    </p-dialog>
  `,
  styles: `
    h3 {
      margin: 14px 0 2px;
    }
    .notice,
    .problem {
      margin-top: 10px;
    }
    .why {
      display: grid;
      gap: 4px;
      margin-top: 14px;
    }
    label {
      color: var(--pencil);
    }
    input {
      border: 1px solid var(--pencil);
      border-radius: 5px;
      padding: 6px 8px;
      background: var(--paper);
    }
    td {
      overflow-wrap: anywhere;
    }
  `,
})
export class PutBack implements OnInit {
  readonly set = input.required<JournalSet>();
  /** Only these lines; null: all of the set. */
  readonly only = input.required<number[] | null>();
  readonly names = input.required<Names>();
  readonly message = input.required<string>();
  readonly done = output<string>();
  readonly left = output<void>();
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly store = inject(BookStore);
  private readonly why = viewChild<ElementRef<HTMLInputElement>>('why');
  private readonly leave = viewChild<unknown, ElementRef<HTMLElement>>('leave', { read: ElementRef });
  protected readonly shown = SHOWN;
  /** The dialog stands open, and takes the keys. */
  protected readonly entered = signal(false);
  protected readonly preview = signal<PutBackPreview | null>(null);
  protected readonly problem = signal('');
  protected readonly busy = signal(false);

  protected readonly lines = computed(() => {
    const only = this.only();
    return (this.preview()?.lines ?? []).filter((l) => only === null || only.includes(l.seq));
  });
  protected readonly later = computed(() => this.lines().filter((l) => l.later !== null));
  protected readonly free = computed(() => this.lines().filter((l) => l.later === null));
  protected readonly laterShown = computed(() => this.later().slice(0, SHOWN));
  protected readonly freeShown = computed(() => this.free().slice(0, SHOWN));
  protected readonly buttonWords = computed(() =>
    this.later().length > 0 ? `Put back the ${this.free().length} that nobody changed since` : 'Put it back',
  );
  protected readonly when = computed(() => dayAndTime(this.set().at, this.names().zone));

  constructor() {
    // Where one goes on typing, once it is there, however late the answer comes.
    effect(() => {
      const at = this.why()?.nativeElement ?? this.leave()?.nativeElement.querySelector<HTMLElement>('button');
      if (this.entered()) at?.focus();
    });
  }

  async ngOnInit(): Promise<void> {
    try {
      this.preview.set(await this.api.get<PutBackPreview>(`${this.path()}/put-back`));
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  private path(): string {
    return `/books/${this.store.id()}/journal/${this.set().batch}`;
  }

  protected where(l: PutBackLine): string {
    const names = this.names();
    const parts = [l.enrolment ? names.student(l.enrolment) : '', l.assessment ? names.assessment(l.assessment) : ''];
    return parts.filter(Boolean).join(', ') || (l.kind === 'rules' ? 'the rules' : 'the book');
  }

  private wordsOf(l: PutBackLine, text: string | null): string {
    if (l.kind === 'rules') return text === l.becomes ? 'as they were before' : 'as they are now';
    return lineWords({ ...l, was: null, becomes: text }, this.names()).becomes;
  }

  protected nowWords(l: PutBackLine): string {
    return this.wordsOf(l, l.now);
  }

  protected thenWords(l: PutBackLine): string {
    return this.wordsOf(l, l.becomes);
  }

  protected laterWords(l: PutBackLine): string {
    return `changed ${dayAndTime(l.later!.at, this.names().zone)} by ${l.later!.by}`;
  }

  protected async putBack(): Promise<void> {
    if (this.busy()) return;
    this.busy.set(true);
    this.problem.set('');
    try {
      const write: Omit<PutBackWrite, 'operation'> = {
        leaveLater: this.later().length > 0,
        reason: this.why()?.nativeElement.value.trim() ?? '',
        ...(this.only() === null ? {} : { only: this.only()! }),
      };
      const made = await this.operations.submit<PutBackMade>('POST', `${this.path()}/put-back`, write);
      const left =
        made.left > 0 ? `; ${counted(made.left, 'with later changes was', 'with later changes were')} left` : '';
      this.done.emit(`Put back: ${this.message()}${left}.`);
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
