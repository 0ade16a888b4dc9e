import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { Counted } from '../../ui/text/counted';
import { InputText } from 'primeng/inputtext';
import { Button } from 'primeng/button';
import { readAssessment, type AssessmentContext, type AssessmentLine } from '@core/import/new-assessment';
import { dayAndTime } from '../text/dates';

/** One line in which an assessment is made, with what it will be in words below it. Enter makes it. */
@Component({
  selector: 'lt-new-assessment',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, InputText, Button],
  template: `
    <label for="new-assessment">A new assessment: its title, then points, category and due day as you like</label>
    <div class="line">
      <input
        pInputText
        #box
        id="new-assessment"
        type="text"
        autocomplete="off"
        maxlength="300"
        placeholder="Check 3, 12, 4 Dec 17:00"
        aria-describedby="new-assessment-is"
        [value]="text()"
        [readOnly]="busy()"
        (input)="typed($event)"
        (keydown.enter)="make()"
      />
      <p-button label="Make it" [disabled]="busy() || read()?.kind !== 'read'" (onClick)="make()" />
    </div>
    <p id="new-assessment-is" role="status" [class.problem]="problem() !== ''">
      @if (problem()) {
        {{ problem() }}
      } @else if (line(); as l) {
        <b>{{ l.title }}</b> · {{ l.points | counted: 'point' }} · {{ titleOf(l.category) }} ·
        {{ l.due ? 'due ' + when(l.due) : 'no due day' }}{{ l.extraCredit ? ' · extra credit' : ''
        }}{{ l.counts ? '' : ' · only shown, counts nowhere' }} · {{ howWords(l) }}
        @if (l.like; as like) {
          <span class="quiet">(the rest like {{ like.title }})</span>
        }
        @if (l.guessed.length > 0) {
          <span class="quiet">({{ guessWords(l) }} as in the assessments before)</span>
        }
      } @else {
        <span class="quiet"
          >Also: “in the room”, “files”, “extra credit”, or “only shown” where it counts nowhere{{ likes() }}.</span
        >
      }
    </p>
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
    }
    label {
      color: var(--pencil);
    }
    .line {
      display: flex;
      gap: 10px;
    }
    input {
      flex: 1;
      min-width: 0;
      border: 1px solid var(--pencil);
      border-radius: 5px;
      padding: 6px 8px;
      background: var(--paper);
      font-size: 14px;
    }
    p {
      min-height: 1.5em;
      overflow-wrap: anywhere;
    }
  `,
})
export class NewAssessmentLine {
  readonly context = input.required<AssessmentContext | null>();
  readonly zone = input.required<string>();
  readonly busy = input(false);
  /** Why it could not be made. */
  readonly failure = input('');
  readonly wanted = output<AssessmentLine>();
  /** Something else is typed: what went wrong before is over. */
  readonly changed = output<void>();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly text = signal('');

  protected readonly read = computed(() => {
    const context = this.context();
    return context && this.text().trim() !== '' ? readAssessment(this.text(), context) : null;
  });
  protected readonly line = computed(() => {
    const read = this.read();
    return read?.kind === 'read' ? read.line : null;
  });
  /** Names of templates, the first few. */
  protected readonly likes = computed(() => {
    const all = this.context()?.templates ?? [];
    return all.length === 0
      ? ''
      : `, or “like ${all[0]!.title}”${
          all.length > 1
            ? ` (also ${all
                .slice(1, 4)
                .map((t) => t.title)
                .join(', ')})`
            : ''
        }`;
  });
  protected readonly problem = computed(() => {
    const read = this.read();
    return this.failure() || (read?.kind === 'refused' ? read.message : '');
  });

  focus(): void {
    this.box().nativeElement.focus();
  }

  clear(): void {
    this.text.set('');
  }

  protected typed(event: Event): void {
    this.text.set((event.target as HTMLInputElement).value);
    this.changed.emit();
  }

  /** How it will be handed in, as it is said or as what it takes after has it. */
  protected howWords({ handedIn, like, due }: AssessmentLine): string {
    const how = handedIn ?? ((like?.takesWork ?? due !== null) ? 'here' : 'room');
    return {
      here: 'handed in here',
      files: 'files are handed in',
      text: 'text is handed in',
      link: 'a link is handed in',
      room: 'on paper or in the room',
      tool: 'done in another tool',
      nothing: 'nothing is handed in',
    }[how];
  }

  protected titleOf(category: string): string {
    return this.context()?.categories.find((c) => c.id === category)?.title ?? category;
  }

  protected when(at: string): string {
    return dayAndTime(at, this.zone());
  }

  protected guessWords(line: AssessmentLine): string {
    return line.guessed.join(' and ');
  }

  protected make(): void {
    const line = this.line();
    if (line && !this.busy()) this.wanted.emit(line);
  }
}
