import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Choice, optionsOf } from '../../ui/form/choice';
import { InputText } from 'primeng/inputtext';
import { Textarea } from 'primeng/textarea';
import { Router } from '@angular/router';
import { Button } from 'primeng/button';
import { Api, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { bookId } from '../../ui/text/book-id';
import type { BookList } from '@contract/books';

/** The book itself: its title, a copy of it for another term, putting it away. */
@Component({
  selector: 'lt-book-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, Checkbox, Choice, InputText, Textarea, Button],
  template: `
    <h2>This book</h2>
    @if (store.page(); as p) {
      @if (store.mayManage()) {
        <label for="book-title">Title</label>
        <input
          pInputText
          id="book-title"
          type="text"
          maxlength="200"
          [value]="p.title"
          [disabled]="p.archived || busy()"
          (change)="rename($any($event.target).value)"
        />
      }
      <p class="quiet">{{ p.term }} · {{ p.timeZone }}</p>
      @if (store.mayManage()) {
        <label for="book-statement">Ticked before handing in</label>
        <textarea
          pTextarea
          id="book-statement"
          rows="3"
          maxlength="500"
          [placeholder]="p.schoolStatement || 'nothing'"
          [value]="p.statement ?? p.schoolStatement"
          [disabled]="p.archived || busy()"
          (change)="setStatement($any($event.target).value)"
        ></textarea>
        @if (p.statement !== null && p.statement !== p.schoolStatement) {
          <button
            type="button"
            class="word"
            [disabled]="p.archived || busy()"
            (click)="setStatement(p.schoolStatement)"
          >
            as the school says
          </button>
        }
      }
      @if (store.mayManage() && !p.archived) {
        <label for="book-names">New work is marked</label>
        <lt-choice
          boxId="book-names"
          label="Whether names are hidden while work is marked"
          [value]="p.hidesNames === null ? 'school' : p.hidesNames ? 'hidden' : 'said'"
          [options]="namesOptions()"
          (chosen)="hideNames($event)"
        />
      }
      <button type="button" class="word" [attr.aria-expanded]="copying()" (click)="begin()">
        copy it for another term
      </button>
      @if (copying()) {
        <form class="copy" (submit)="$event.preventDefault(); copy()">
          <label for="copy-title">Title of the copy</label>
          <input
            pInputText
            id="copy-title"
            type="text"
            maxlength="200"
            [value]="title()"
            (input)="title.set($any($event.target).value)"
          />
          <span class="label">Term</span>
          <lt-choice
            label="Term of the copy"
            boxId="copy-term"
            [value]="term()"
            [options]="termOptions()"
            (chosen)="term.set($event)"
          />
          <label
            ><p-checkbox
              [binary]="true"
              [ngModelOptions]="{ standalone: true }"
              [ngModel]="assessments()"
              (ngModelChange)="assessments.set($event)"
            />
            with its assessments</label
          >
          @if (assessments()) {
            <label for="copy-days">their dates moved by days</label>
            <input
              pInputText
              id="copy-days"
              type="number"
              min="-3660"
              max="3660"
              [value]="days()"
              (input)="days.set($any($event.target).valueAsNumber)"
            />
          }
          <p class="quiet">Rules and sections go along; people and their work do not.</p>
          <p-button
            type="submit"
            label="Make the copy"
            [disabled]="title().trim() === '' || term() === '' || !sound()"
            [loading]="busy()"
          />
        </form>
      }
      @if (p.role === 'teacher') {
        @if (p.archived) {
          <p class="quiet">It is put away: read by its staff, changed by nobody.</p>
          <p-button label="Take the book out again" [outlined]="true" [loading]="busy()" (onClick)="putAway(false)" />
        } @else {
          <button type="button" class="word" [disabled]="busy()" (click)="putAway(true)">put the book away</button>
        }
      }
      @if (problem()) {
        <p class="problem" role="alert">{{ problem() }}</p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
      justify-items: start;
      margin-top: 12px;
    }
    input,
    textarea,
    lt-choice {
      width: 100%;
    }
    .copy {
      display: grid;
      gap: 5px;
      width: 100%;
    }
    label {
      color: var(--pencil);
    }
  `,
})
export class BookSettingsPart {
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  private readonly router = inject(Router);
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly copying = signal(false);
  protected readonly title = signal('');
  protected readonly term = signal('');
  protected readonly terms = signal<BookList['terms']>([]);
  protected readonly termOptions = computed(() => optionsOf(this.terms()));
  protected readonly assessments = signal(true);
  protected readonly days = signal(0);
  protected readonly sound = computed(() => Number.isInteger(this.days()) && Math.abs(this.days()) <= 3_660);
  private made: { title: string; id: string } | null = null;

  private async act(work: () => Promise<unknown>): Promise<boolean> {
    this.busy.set(true);
    this.problem.set('');
    try {
      await work();
      return true;
    } catch (error) {
      this.problem.set(messageOf(error));
      return false;
    } finally {
      this.busy.set(false);
    }
  }

  private patch(part: object): Promise<boolean> {
    return this.act(async () => {
      await this.operations.submit('PATCH', `/books/${this.store.id()}`, part);
      await this.store.reload();
    });
  }

  protected async rename(title: string): Promise<void> {
    if (title.trim() !== '' && (await this.patch({ title: title.trim() })))
      this.statusBar.announce('The title is kept.');
  }

  /** The school's own words are the school's: they follow when it changes them. */
  protected async setStatement(words: string): Promise<void> {
    const said = words.trim();
    const statement = said === this.store.page()?.schoolStatement ? null : said;
    if (await this.patch({ statement }))
      this.statusBar.announce(
        said === '' ? 'Nothing is ticked before handing in.' : 'Students tick this before they hand in from now on.',
      );
  }

  protected readonly namesOptions = computed(() => [
    {
      value: 'school',
      text: `as the school says (${this.store.page()?.schoolHidesNames ? 'without names' : 'by name'})`,
    },
    { value: 'said', text: 'by name' },
    { value: 'hidden', text: 'without names, until they are shown' },
  ]);

  /** What is made from now on; each assessment can say otherwise. */
  protected async hideNames(how: string): Promise<void> {
    if (await this.patch({ hidesNames: how === 'school' ? null : how === 'hidden' }))
      this.statusBar.announce('Assessments that are made from now on are marked so. Each can say otherwise.');
  }

  protected async putAway(away: boolean): Promise<void> {
    if (!(await this.patch({ archived: away }))) return;
    this.statusBar.announce(away ? 'The book is put away. Here it is taken out again.' : 'The book is out again.');
  }

  protected async begin(): Promise<void> {
    this.copying.set(!this.copying());
    if (!this.copying()) return;
    this.title.set(this.store.page()?.title ?? '');
    await this.act(async () => {
      const { terms } = await this.api.get<BookList>('/books');
      this.terms.set(terms);
      this.term.set(terms[0]?.id ?? '');
    });
  }

  protected async copy(): Promise<void> {
    // The same title tried again is the same book.
    const title = this.title().trim();
    if (this.made?.title !== title) this.made = { title, id: bookId(title) };
    const { id } = this.made;
    const made = await this.act(() =>
      this.api.send('POST', `/books/${this.store.id()}/copies`, {
        id,
        term: this.term(),
        title,
        assessments: this.assessments(),
        shiftDays: this.assessments() ? this.days() : 0,
      }),
    );
    if (!made) return;
    this.copying.set(false);
    this.statusBar.announce(`${title} is made.`);
    await this.router.navigate(['/book', id, 'assessments']);
  }
}
