import {
  ChangeDetectionStrategy,
  ChangeDetectorRef,
  Component,
  computed,
  type ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { InputText } from 'primeng/inputtext';
import { Router } from '@angular/router';
import { Store } from '@ngrx/store';
import type { Desk, Office } from '@contract/overview';
import { Api } from '../data/api';
import { BookStore } from '../data/book';
import { GuidePages, type GuidePage } from '../features/guide/guide-pages';
import { onDocument } from '../ui/layout/document-events';
import { GuidePlace } from '../ui/layout/guide-place';
import { CommandPalette } from '../ui/layout/command-palette';
import { sessionFeature } from '../data/session';
import { found } from '../ui/text/find-words';

interface Entry {
  id: string;
  kind: string;
  text: string;
  more: string;
  go(): void;
}
/** Found by its name, or by words that are said in it. */
type Found = Entry & { words?: string };

const SHOWN = 12;

/** One line that goes to any student, assessment, page or book, and does what the open page can do. */
@Component({
  selector: 'lt-jump-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [InputText],
  template: `
    <button type="button" class="field" (click)="begin()" aria-haspopup="dialog">
      <span>Jump to a student, a book, an action</span><kbd>Ctrl K</kbd>
    </button>
    @if (palette.open()) {
      <div class="veil" role="presentation" (click)="close()"></div>
      <div class="box" role="dialog" aria-modal="true" aria-label="Jump">
        <input
          pInputText
          #line
          type="text"
          role="combobox"
          aria-expanded="true"
          aria-controls="jump-list"
          aria-label="A student, an assessment, a page, a book or an action"
          autocomplete="off"
          spellcheck="false"
          placeholder="A student, an assessment, a page, a book or an action"
          [attr.aria-activedescendant]="entries().length > 0 ? 'jump-' + at() : null"
          (input)="typed($event)"
          (keydown)="step($event)"
          (blur)="refocus()"
        />
        <ul id="jump-list" role="listbox" aria-label="Where to">
          @for (e of entries(); track e.id; let i = $index) {
            <li
              role="option"
              [id]="'jump-' + i"
              [class.on]="i === at()"
              [attr.aria-selected]="i === at()"
              (mousedown)="choose(e); $event.preventDefault()"
              (mousemove)="at.set(i)"
            >
              <small>{{ e.kind }}</small><b>{{ e.text }}</b
              ><span>{{ e.more }}</span>
            </li>
          }
        </ul>
        @if (entries().length === 0) {
          <p>Nothing here is called so.</p>
        }
      </div>
    }
  `,
  styleUrl: './command-palette.css',
})
export class CommandPaletteView {
  protected readonly palette = inject(CommandPalette);
  private readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  private readonly line = viewChild<ElementRef<HTMLInputElement>>('line');
  private readonly text = signal('');
  protected readonly at = signal(0);
  private readonly books = signal<{ id: string; title: string }[]>([]);
  private readonly guide = signal<GuidePage[]>([]);
  private readonly guidePages = inject(GuidePages);
  private readonly place = inject(GuidePlace);
  private readonly changes = inject(ChangeDetectorRef);
  private before: HTMLElement | null = null;
  /** Books are being asked for. */
  private asked: Promise<void> | null = null;

  private readonly all = computed((): Found[] => {
    const book = this.store.page();
    const go = (...path: string[]) => void this.router.navigate(path);
    const entry = (kind: string, id: string, text: string, more: string, run: () => void): Entry => ({
      id: `${kind} ${id}`,
      kind,
      text,
      more,
      go: run,
    });
    const ledger = (params: object): void =>
      void this.router.navigate(['/book', book!.id, 'ledger'], { queryParams: params });
    // Without names a student is their work, and nothing else.
    const veiled = this.store.veiled();
    const named = veiled === '' ? (book?.students ?? []) : [];
    const toWork = (student: string): void =>
      void this.router.navigate(['/book', this.store.id(), 'marking', veiled], { queryParams: { student } });
    const inBook = book
      ? [
          ...book.students.map((s) =>
            entry('student', s.id, s.given ? `${s.family}, ${s.given}` : s.family, s.number, () =>
              veiled === '' ? ledger({ student: s.id }) : toWork(s.id),
            ),
          ),
          ...book.assessments.map((a) =>
            entry('assessment', a.id, a.title, `of ${a.points}`, () => ledger({ assessment: a.id })),
          ),
          ...book.assessments.map((a) =>
            entry('page of', a.id, a.title, 'everything of this assessment', () =>
              go('/book', book.id, 'assessments', a.id),
            ),
          ),
          ...named.map((s) =>
            entry(
              'where is',
              s.id,
              s.given ? `${s.family}, ${s.given}` : s.family,
              'what became of their work',
              () => void this.router.navigate(['/where'], { queryParams: { of: book.id, enrolment: s.id } }),
            ),
          ),
          ...PAGES.map((p) => entry('page', p.path, p.message, book.title, () => go('/book', book.id, p.path))),
          ...named.map((s) =>
            entry('page of', s.id, s.given ? `${s.family}, ${s.given}` : s.family, 'everything of this student', () =>
              go('/book', book.id, 'student', s.id),
            ),
          ),
        ]
      : [];
    const home = this.me()?.role === 'administrator' ? 'office' : 'desk';
    const guide = this.guide().flatMap((page) =>
      page.parts.map((part) => ({
        ...entry('guide', `${page.path}#${part.id}`, part.title || page.title, part.title ? page.title : '', () =>
          this.place.show(`${page.path}#${part.id}`),
        ),
        words: `${page.title} ${part.text}`,
      })),
    );
    return [
      ...this.palette.actions().map((a) => entry('do', a.id, a.label, a.key, () => a.run())),
      entry('page', home, home === 'desk' ? 'Desk' : 'Office', 'the first page', () => go(`/${home}`)),
      ...this.sought(),
      entry('page', 'where', 'Where is …?', 'what became of a student’s work', () => go('/where')),
      entry('page', 'new-book', 'A new book', 'make one', () => go('/new-book')),
      entry('page', 'settings', 'Settings', 'dates, decimals, colours, rows', () => go('/settings')),
      ...this.books().map((b) => entry('book', b.id, b.title, '', () => go('/book', b.id))),
      ...inBook,
      ...(this.text().trim() === '' ? [] : guide),
    ];
  });
  /** What an entry is counts too: "where is farrelly". */
  protected readonly entries = computed(() =>
    found(
      this.all().map((e) => ({ words: `${e.kind} ${e.text}`, ...e })),
      this.text(),
      SHOWN,
    ),
  );

  constructor() {
    onDocument('keydown', (event) => this.key(event));
  }

  /** A name after "where is" that no open book knows is looked for in all of one's books. */
  private sought(): Found[] {
    const [, name] = /^\s*where is\s+(\S.*)$/i.exec(this.text()) ?? [];
    if (name === undefined || this.store.page()) return [];
    const go = () => void this.router.navigate(['/where'], { queryParams: { words: name } });
    return [{ id: 'where words', kind: 'where is', text: `${name} …?`, more: 'in all your books', go }];
  }

  /** Opens the line and gives it the keys at once: the next one may come any moment. */
  protected begin(): void {
    if (this.palette.open()) return;
    this.before = document.activeElement as HTMLElement | null;
    this.text.set('');
    this.at.set(0);
    this.palette.open.set(true);
    this.changes.detectChanges();
    this.line()!.nativeElement.focus();
    // Without the guide everything else is found; it is asked for again the next time.
    this.guidePages.load().then(
      (pages) => this.guide.set(pages),
      () => undefined,
    );
    if (this.books().length > 0) return;
    const office = this.me()?.role === 'administrator';
    // Books are there a moment later; without an answer all else can still be jumped to.
    const asked = office ? this.api.get<Office>('/office') : this.api.get<Desk>('/desk');
    this.asked = asked
      .then((a) => this.books.set(a.books.map(({ id, title }) => ({ id, title }))))
      .catch(() => undefined)
      .finally(() => (this.asked = null));
  }

  private key(event: KeyboardEvent): void {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'k' || event.shiftKey || event.altKey) return;
    event.preventDefault();
    this.begin();
  }

  protected typed(event: Event): void {
    this.text.set((event.target as HTMLInputElement).value);
    this.at.set(0);
  }

  protected step(event: KeyboardEvent): void {
    const n = this.entries().length;
    if (event.key === 'ArrowDown') this.at.update((i) => (n === 0 ? 0 : (i + 1) % n));
    else if (event.key === 'ArrowUp') this.at.update((i) => (n === 0 ? 0 : (i + n - 1) % n));
    else if (event.key === 'Enter') this.enter();
    else if (event.key === 'Escape') this.close();
    else if (event.key !== 'Tab') return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** Pressed before the books are there, where nothing or only the guide is found, it is meant for what is found then. */
  private enter(): void {
    const text = this.text();
    const choose = (): void => {
      const entry = this.entries()[this.at()];
      if (entry && this.palette.open() && this.text() === text) this.choose(entry);
    };
    const first = this.entries()[0];
    if (this.asked && this.at() === 0 && (!first || first.kind === 'guide')) void this.asked.then(choose);
    else choose();
  }

  protected refocus(): void {
    if (this.palette.open()) setTimeout(() => this.line()?.nativeElement.focus());
  }

  protected choose(entry: Entry): void {
    this.close();
    entry.go();
  }

  protected close(): void {
    this.palette.open.set(false);
    // Its line is gone before anybody asks who has the keys: whoever comes into sight next takes them.
    this.changes.detectChanges();
    this.before?.focus({ preventScroll: true });
  }
}

const PAGES = [
  { path: 'ledger', message: 'Ledger' },
  { path: 'assessments', message: 'Assessments' },
  { path: 'people', message: 'People' },
  { path: 'rehearsal', message: 'Rehearsal' },
  { path: 'exceptions', message: 'Exceptions' },
  { path: 'rules', message: 'Rules' },
  { path: 'intake', message: 'Intake' },
  { path: 'release', message: 'Release' },
  { path: 'closing', message: 'Closing' },
  { path: 'journal', message: 'Journal' },
];
