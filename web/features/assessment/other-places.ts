import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Choice, optionsOf } from '../../ui/form/choice';
import { Button } from 'primeng/button';
import { groupsOf } from '@core/book/document';
import type { AssessmentWhole, Copied } from '@contract/assessments';
import type { Sheet } from '@contract/books';
import { Api, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { groupTitle } from '../../ui/text/group-title';
import type { BookList } from '@contract/books';

/** An assessment copied into another book, or kept as a template to make others from. */
@Component({
  selector: 'lt-other-places',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, Checkbox, Choice, Button],
  template: `
    <h2>Elsewhere</h2>
    <div class="line">
      <button type="button" class="word" [attr.aria-expanded]="open()" (click)="toggle()">
        copy it to another book
      </button>
      <button type="button" class="word" [disabled]="busy()" (click)="template()">keep it as a template</button>
    </div>
    @if (open()) {
      @if (books().length === 0) {
        <p class="quiet">{{ problem() || 'You have no other book in which you make assessments.' }}</p>
      } @else {
        <div class="line">
          <span>to</span>
          <lt-choice
            label="To which book"
            boxId="copy-book"
            [value]="book()"
            [options]="bookOptions()"
            (chosen)="choose($event)"
          />
          @if (categories().length > 0) {
            <span>in</span>
            <lt-choice
              label="In which category"
              boxId="copy-category"
              [value]="category()"
              [options]="categoryOptions()"
              (chosen)="category.set($event)"
            />
            <label class="check"
              ><p-checkbox
                [binary]="true"
                [ngModelOptions]="{ standalone: true }"
                [ngModel]="dates()"
                (ngModelChange)="dates.set($event)"
              />
              with its dates</label
            >
            <p-button label="Copy it" [loading]="busy()" (onClick)="copy()" />
          }
        </div>
      }
    }
    @if (problem() && books().length > 0) {
      <p class="problem" role="alert">{{ problem() }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
      margin-top: 22px;
      padding-top: 14px;
      border-top: 1px solid var(--rule);
    }
    .line {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 14px;
      align-items: center;
    }
  `,
})
export class OtherPlaces {
  readonly assessment = input.required<AssessmentWhole>();
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly store = inject(BookStore);
  private readonly statusBar = inject(StatusBar);
  protected readonly open = signal(false);
  protected readonly books = signal<BookList['books']>([]);
  protected readonly categories = signal<{ id: string; title: string }[]>([]);
  protected readonly category = signal('');
  protected readonly bookOptions = computed(() =>
    optionsOf(
      this.books().map((b) => ({ id: b.id, title: `${b.title}, ${b.term}` })),
      'which book',
    ),
  );
  protected readonly categoryOptions = computed(() => optionsOf(this.categories()));
  protected readonly dates = signal(true);
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly book = signal('');

  protected async toggle(): Promise<void> {
    this.open.set(!this.open());
    if (!this.open()) return;
    try {
      const { books } = await this.api.get<BookList>('/books');
      this.books.set(
        books.filter(
          (b) => b.id !== this.store.id() && !b.archived && (b.role === 'teacher' || b.role === 'co-teacher'),
        ),
      );
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  protected async choose(book: string): Promise<void> {
    this.book.set(book);
    this.categories.set([]);
    if (book === '') return;
    try {
      const { tree } = (await this.api.get<Sheet>(`/books/${book}/sheet`)).document;
      if (book !== this.book()) return;
      this.categories.set(
        groupsOf(tree)
          .filter((g) => g !== tree)
          .map((g) => ({ id: g.id, title: groupTitle(g) })),
      );
      this.category.set(this.categories()[0]?.id ?? '');
      this.problem.set('');
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  protected async copy(): Promise<void> {
    this.busy.set(true);
    this.problem.set('');
    try {
      const { left } = await this.operations.submit<Copied>(
        'POST',
        `/books/${this.store.id()}/assessments/${this.assessment().id}/copies`,
        { book: this.book(), category: this.category(), dates: this.dates() },
      );
      const to = this.books().find((b) => b.id === this.book())?.title ?? '';
      this.statusBar.announce(
        `${this.assessment().title} is copied to ${to}${left.length > 0 ? `, without ${left.join(', ')}, which that book does not have` : ''}.`,
      );
      this.open.set(false);
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  protected async template(): Promise<void> {
    const { id, title, points, takesWork, work, more } = this.assessment();
    const { opens: _opens, ...usual } = work;
    const { sectionDates: _dates, ...rest } = more;
    this.busy.set(true);
    try {
      await this.api.send('PUT', `/templates/${id}`, {
        title,
        body: { points, takesWork, work: usual, category: this.assessment().category, more: rest },
      });
      this.statusBar.announce(
        `${title} is kept as a template: “like ${title}” makes another in the line for new assessments.`,
      );
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
