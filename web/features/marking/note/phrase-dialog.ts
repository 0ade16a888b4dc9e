import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { Dialog } from 'primeng/dialog';
import { Textarea } from 'primeng/textarea';
import { counted } from '@core/words/count';
import type { Phrase, PhraseScope } from '@contract/work/feedback';
import { messageOf, newOperation } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { Walk } from '../../../data/work/walk';
import { PhraseBook } from '../../../data/work/phrases';
import { Choice } from '../../../ui/form/choice';

const SCOPES: { value: PhraseScope; text: string }[] = [
  { value: 'own', text: 'mine' },
  { value: 'book', text: 'for this book' },
  { value: 'school', text: 'for the school' },
];

/** Words that a phrase had, those it has now, and whose feedback has the former. */
interface Former {
  was: string;
  becomes: string;
  enrolments: string[];
}

/** All phrases that one may use here; one's own are changed, given to others and taken out. */
@Component({
  selector: 'lt-phrase-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, Dialog, Textarea],
  template: `
    <p-dialog
      header="Phrases"
      [modal]="true"
      closeAriaLabel="Leave it"
      [visible]="true"
      (visibleChange)="$event || left.emit()"
      [style]="{ width: '44rem' }"
    >
      <p class="quiet">“{{ '{given}' }}” is filled in with the student’s first name.</p>
      @if (problem()) {
        <p class="problem" role="alert">{{ problem() }}</p>
      }
      <p class="former" role="status">
        @if (former(); as f) {
          {{ counted(f.enrolments.length, 'student has', 'students have') }} the former words here:
          <button type="button" class="word" (click)="goThrough(f)">go through them</button>
        }
      </p>
      <ul>
        @for (f of phrases.all(); track f.id) {
          <li>
            @if (f.mine) {
              <textarea
                pTextarea
                rows="2"
                maxlength="1000"
                aria-label="Words"
                [value]="f.words"
                (change)="write(f, f.scope, $any($event.target).value)"
              ></textarea>
              <lt-choice
                [inline]="true"
                label="For whom"
                [value]="f.scope"
                [options]="SCOPES"
                (chosen)="write(f, $any($event), f.words)"
              />
              <button type="button" class="word" (click)="write(f, f.scope, null)">take out</button>
            } @else {
              <span class="words">{{ f.words }}</span>
              <span class="quiet">{{ f.scope === 'school' ? 'for the school' : 'for this book' }}, by {{ f.by }}</span>
            }
            <span class="quiet mono">{{ f.uses }} ×</span>
          </li>
        } @empty {
          <li class="quiet">None yet: write one, or keep a sentence of a note.</li>
        }
      </ul>
      <p class="new">
        <textarea
          pTextarea
          #fresh
          rows="2"
          maxlength="1000"
          aria-label="A new phrase"
          placeholder="Words that are used again"
          (keydown.control.enter)="add(fresh)"
        ></textarea>
        <button type="button" class="word" (click)="add(fresh)">keep it</button>
      </p>
    </p-dialog>
  `,
  styles: `
    /* Its place is kept: what comes by itself moves nothing from under a click. */
    .former {
      min-height: 1.7em;
      margin: 6px 0 0;
    }
    ul {
      list-style: none;
      margin: 10px 0;
      padding: 0;
      max-height: 50vh;
      overflow: auto;
    }
    li {
      display: flex;
      gap: 8px 14px;
      align-items: center;
      padding: 6px 0;
      border-top: 1px solid var(--rule);
    }
    textarea,
    .words {
      flex: 1;
      min-width: 0;
    }
    .new {
      display: flex;
      gap: 14px;
      align-items: center;
    }
  `,
})
export class PhraseDialog {
  readonly left = output();
  readonly assessment = input.required<string>();
  protected readonly phrases = inject(PhraseBook);
  private readonly store = inject(BookStore);
  private readonly walk = inject(Walk);
  protected readonly counted = counted;
  protected readonly problem = signal('');
  /** Whose feedback has words of a phrase that has others now. */
  protected readonly former = signal<Former | null>(null);
  protected readonly SCOPES = this.store.mayManage() ? SCOPES : SCOPES.slice(0, 2);

  protected async write(phrase: Phrase, scope: PhraseScope, words: string | null): Promise<void> {
    if (words !== null && words.trim() === '') return this.problem.set('A phrase has words; “take out” removes it.');
    const was = phrase.words;
    if (!(await this.tell(() => this.phrases.write(phrase, scope, words))) || words === null) return;
    if (words.trim() !== was.trim()) await this.tell(() => this.lookForFormer(was, words.trim()));
  }

  private async lookForFormer(was: string, becomes: string): Promise<void> {
    const enrolments = await this.phrases.usedIn(this.assessment(), was);
    this.former.set(enrolments.length > 0 ? { was, becomes, enrolments } : null);
  }

  /** Through just those drafts, one after the other. */
  protected goThrough({ was, becomes, enrolments }: Former): void {
    const why = `whose feedback has “${was.length > 40 ? `${was.slice(0, 40)} …` : was}”`;
    const place = { book: this.store.id(), assessment: this.assessment() };
    this.walk.begin({ ...place, why, enrolments, replace: { was, becomes } });
    this.left.emit();
  }

  protected async add(box: HTMLTextAreaElement): Promise<void> {
    const words = box.value.trim();
    if (words === '') return;
    if (await this.tell(() => this.phrases.write({ id: newOperation(), version: 0 }, 'own', words))) box.value = '';
  }

  private async tell(act: () => Promise<void>): Promise<boolean> {
    try {
      this.problem.set('');
      await act();
      return true;
    } catch (error) {
      this.problem.set(messageOf(error));
      return false;
    }
  }
}
