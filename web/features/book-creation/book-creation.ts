import { ChangeDetectionStrategy, Component, computed, inject, resource, signal } from '@angular/core';
import { Choice, optionsOf } from '../../ui/form/choice';
import { InputText } from 'primeng/inputtext';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { firstRules, readCategories } from '@core/book/first-rules';
import { isTimeZone } from '@core/time/local-days';
import type { NewBook } from '@contract/books';
import { Api, messageOf } from '../../data/api';
import { homeOf, sessionFeature } from '../../data/session';
import { KeptDrafts } from '../../data/kept-drafts';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { bookId } from '../../ui/text/book-id';
import type { BookList } from '@contract/books';

/** A new book: its title, term, zone, sections, staff, and the rules that it begins with. */
@Component({
  selector: 'lt-new-book',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, InputText, Button],
  templateUrl: './book-creation.html',
  styles: `
    :host {
      display: grid;
      padding: 16px 16px 0;
      min-height: 0;
    }
    main {
      padding: 22px 28px;
      overflow: auto;
    }
    form {
      display: grid;
      gap: 16px;
      max-width: 720px;
      margin-top: 16px;
    }
    .field {
      display: grid;
      gap: 4px;
      align-content: end;
    }
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 16px;
    }
    label,
    legend {
      color: var(--pencil);
    }
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      display: grid;
      gap: 6px;
    }
    fieldset label {
      color: inherit;
    }
    .acts {
      display: flex;
      gap: 10px;
    }
    @media (max-width: 600px) {
      :host {
        padding: 0;
      }
      main {
        padding: 14px 12px;
      }
      .two {
        grid-template-columns: 1fr;
      }
    }
  `,
})
export class BookCreationPage {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly drafts = inject(KeptDrafts);
  protected readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  protected readonly list = resource({ loader: () => this.api.get<BookList>('/books') });
  protected readonly known = computed(() => (this.list.hasValue() ? this.list.value() : null));
  protected readonly loading = computed(() => (this.list.error() ? messageOf(this.list.error()) : ''));
  protected readonly title = this.drafts.text(() => 'new-book title');
  protected readonly term = this.drafts.text(() => 'new-book term');
  protected readonly zone = this.drafts.text(() => 'new-book zone');
  protected readonly sections = this.drafts.text(() => 'new-book sections');
  protected readonly teachers = this.drafts.text(() => 'new-book teachers');
  protected readonly from = this.drafts.text(() => 'new-book from');
  protected readonly terms = computed(() => optionsOf(this.known()?.terms ?? []));
  protected readonly beginnings = computed(() =>
    optionsOf(
      (this.known()?.books ?? []).map((b) => ({ id: b.id, title: `those of ${b.title}, ${b.term}` })),
      'the school’s, with these categories',
    ),
  );
  protected readonly categories = this.drafts.text(() => 'new-book categories');
  protected readonly busy = signal(false);
  protected readonly failure = signal('');
  private id: { title: string; id: string } | null = null;

  protected readonly office = computed(() => this.me()?.role === 'administrator');
  protected readonly termNow = computed(() => this.term() || (this.known()?.terms[0]?.id ?? ''));
  private readonly read = computed(() => readCategories(this.categories()));
  protected readonly message = computed(() => {
    const r = this.read();
    if (this.from() !== '' || this.categories().trim() === '') return '';
    if ('message' in r) return r.message;
    const sum = r.categories.reduce((n, c) => n + c.weight, 0);
    return `${r.categories.map((c) => `${c.title} ${c.weight}`).join(', ')}${sum === 100 ? '' : ` (together ${sum}: each counts its share of that)`}`;
  });
  protected readonly fault = computed(() => {
    const zone = this.zone().trim();
    if (zone !== '' && !isTimeZone(zone)) return `“${zone}” is no time zone, such as Europe/Dublin.`;
    const r = this.read();
    return this.from() === '' && this.categories().trim() !== '' && 'message' in r ? r.message : '';
  });
  protected readonly ready = computed(
    () =>
      this.title().trim() !== '' &&
      this.termNow() !== '' &&
      this.fault() === '' &&
      (this.from() !== '' || !('message' in this.read())) &&
      (!this.office() || this.teachers().trim() !== '') &&
      !this.busy(),
  );

  constructor() {
    const where = inject(Breadcrumbs);
    where.set(this.me()?.school ?? '', 'A new book');
  }

  protected async make(): Promise<void> {
    if (!this.ready()) return;
    const r = this.read();
    const title = this.title().trim();
    if (this.id?.title !== title) this.id = { title, id: bookId(title) };
    const list = (text: string): string[] => [
      ...new Set(
        text
          .split(/[,;\n]/)
          .map((s) => s.trim())
          .filter(Boolean),
      ),
    ];
    const body: NewBook = {
      id: this.id.id,
      term: this.termNow(),
      title,
      sections: list(this.sections()).map((s, i) => ({ id: `sec-${i + 1}`, title: s })),
      staff: list(this.teachers()).map((login) => ({ login, role: 'teacher' as const })),
      rules: this.from() !== '' ? { from: this.from() } : firstRules('message' in r ? [] : r.categories),
      ...(this.zone().trim() ? { timeZone: this.zone().trim() } : {}),
    };
    this.busy.set(true);
    this.failure.set('');
    try {
      await this.api.send('POST', '/books', body);
      this.forget();
      await this.router.navigate(['/book', body.id, 'people']);
    } catch (error) {
      this.failure.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  private forget(): void {
    for (const text of [this.title, this.term, this.zone, this.sections, this.teachers, this.from, this.categories])
      text.set('');
  }

  /** Leaves the page and what was begun on it; whoever goes elsewhere finds it again. */
  protected leave(): void {
    this.forget();
    const me = this.me();
    void this.router.navigateByUrl(me ? homeOf(me) : '/');
  }
}
