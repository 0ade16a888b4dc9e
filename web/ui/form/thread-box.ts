import { ChangeDetectionStrategy, Component, computed, input, model, output } from '@angular/core';
import { Button } from 'primeng/button';
import { Textarea } from 'primeng/textarea';
import type { Thread } from '@contract/work/threads';
import { dayAndTime } from '../text/dates';

/** Questions and answers about one assessment, and the place to write the next. Ctrl+Enter sends it. */
@Component({
  selector: 'lt-thread-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, Textarea],
  template: `
    @for (m of thread()?.messages ?? []; track m.id) {
      @if (m.kind === 'set-aside') {
        <p class="quiet">needs no answer, said {{ m.by }} · {{ when(m.at) }}</p>
      } @else {
        <div [class.own]="m.own" [class.question]="m.kind === 'question'">
          <p class="quiet">
            <b>{{ m.own ? 'You' : m.by }}</b>
            @if (m.kind === 'draft') {
              drafted an answer
            }
            · {{ when(m.at) }}
          </p>
          <p class="words" [class.pencil]="m.kind === 'draft'">{{ m.text }}</p>
          @if (m.kind === 'draft' && mayAnswer() && mayWrite() && thread()?.unansweredSince) {
            <button type="button" class="word" (click)="take(m.text)">take it for the answer</button>
          }
        </div>
      }
    }
    @if (thread()?.unansweredSince; as since) {
      <p class="blue">{{ staff() ? 'Waits for an answer since ' + when(since) : 'Not answered yet.' }}</p>
    }
    @if (writes()) {
      <label [for]="boxId()">{{ label() }}</label>
      <textarea
        pTextarea
        [id]="boxId()"
        rows="3"
        maxlength="5000"
        [value]="text()"
        (input)="text.set($any($event.target).value)"
        (keydown.control.enter)="send()"
      ></textarea>
      @if (problem()) {
        <p class="problem" role="alert">{{ problem() }}</p>
      }
      <p class="acts">
        <p-button
          [label]="!staff() ? 'Ask' : mayAnswer() ? 'Answer' : 'Leave the draft'"
          [outlined]="true"
          size="small"
          [disabled]="text().trim() === ''"
          [loading]="busy()"
          (onClick)="send()"
        />
        @if (!mayAnswer()) {
          <span class="quiet">A teacher of the book answers.</span>
        } @else if (staff() && thread()?.unansweredSince) {
          <button type="button" class="word" (click)="setAside.emit()">it needs no answer</button>
        }
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
    }
    div {
      border-left: 3px solid var(--rule);
      padding-left: 10px;
    }
    .question {
      border-left-color: var(--pencil);
    }
    .words {
      white-space: pre-line;
      overflow-wrap: anywhere;
    }
    textarea {
      width: 100%;
    }
    .acts {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 18px;
      align-items: center;
    }
    p-button {
      white-space: nowrap;
    }
  `,
})
export class ThreadBox {
  readonly boxId = input.required<string>();
  readonly thread = input.required<Thread | null>();
  readonly zone = input('UTC');
  readonly staff = input(false);
  readonly mayWrite = input(true);
  /** Of staff: what they say goes to the student; where not, it is a draft for those who may. */
  readonly mayAnswer = input(true);
  readonly busy = input(false);
  readonly problem = input('');
  /** What is typed and not sent. */
  readonly text = model('');
  readonly said = output<string>();
  readonly setAside = output<void>();
  /** Who drafts does so while a question waits; what they have typed stays before them when it was answered meanwhile. */
  protected readonly writes = computed(
    () => this.mayWrite() && (this.mayAnswer() || !!this.thread()?.unansweredSince || this.text().trim() !== ''),
  );
  protected readonly label = computed(() =>
    this.staff()
      ? this.mayAnswer()
        ? 'Your answer'
        : 'Draft of an answer'
      : (this.thread()?.messages.length ?? 0) > 0
        ? 'Ask more'
        : 'Your question',
  );

  protected when(at: string): string {
    return dayAndTime(at, this.zone());
  }

  /** A draft goes into the box, after what is typed there. */
  protected take(draft: string): void {
    const typed = this.text().trim();
    this.text.set(typed === '' ? draft : `${typed}\n\n${draft}`);
  }

  protected send(): void {
    if (this.text().trim() !== '' && !this.busy()) this.said.emit(this.text().trim());
  }
}
