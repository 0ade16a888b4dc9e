import { formOf, listed } from '@core/words/count';
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
import { MANY_ROWS, ROW_HEIGHT, ROWS } from '../../ui/layout/rows';
import { Choice, optionsOf } from '../../ui/form/choice';
import { Textarea } from 'primeng/textarea';
import { Button } from 'primeng/button';
import { readPeople } from '@core/import/people-list';
import { decode } from '@core/import/table';
import type { RosterFate, RosterMade } from '@contract/people';
import { Api, messageOf } from '../../data/api';
import { KeptDrafts } from '../../data/kept-drafts';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';

const FATES: Record<RosterFate['fate'], string> = {
  new: 'new',
  enrol: 'put in',
  here: 'stays',
  moves: 'moves',
  back: 'back in',
  refused: 'left out',
};

/** Where a list that is left is kept. */
export const peoplePlace = (book: string): string => `people ${book}`;

/** Students typed, pasted or from a file: what becomes of every line is shown before anything is done. */
@Component({
  selector: 'lt-people-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ROWS, Choice, Textarea, Button],
  template: `
    <section aria-label="Add students">
      <label for="people-text"
        >One student to a line: a name, or columns from a spreadsheet (number, family name, given name, mail,
        section)</label
      >
      <textarea
        pTextarea
        id="people-text"
        rows="6"
        spellcheck="false"
        placeholder="Farrelly, Con"
        [value]="text()"
        (input)="text.set($any($event.target).value)"
      ></textarea>
      <div class="line">
        <label class="word" for="people-file">a CSV file …</label>
        <input id="people-file" class="unseen" type="file" accept=".csv,.tsv,.txt,text/*" (change)="file($event)" />
        @if (read().people.length > 0 && sections().length > 0 && !hasSections()) {
          <span>all of them in</span>
          <lt-choice
            label="All of them in"
            boxId="people-section"
            [value]="section()"
            [options]="sectionOptions()"
            (chosen)="section.set($event)"
          />
        }
        <span class="quiet" role="status">{{ message() }}</span>
        <p-button label="Leave it" [text]="true" (onClick)="drop()" />
        <p-button
          [label]="label()"
          [disabled]="todo() === 0 || busy() || stale()"
          [loading]="busy()"
          (onClick)="keep()"
        />
      </div>
      @if (problem()) {
        <p class="problem" role="alert">{{ problem() }}</p>
      }
      @if (lines().length > 0 && fates().length === lines().length) {
        <div class="rows">
          <p-table
            [value]="$any(lines())"
            [virtualScroll]="lines().length > MANY"
            [virtualScrollItemSize]="ROW"
            [scrollable]="lines().length > MANY"
            [scrollHeight]="lines().length > MANY ? '62vh' : undefined"
            rowKey="$index"
            [tableStyleClass]="lines().length > MANY ? 'plain many' : 'plain'"
          >
            <ng-template #header
              ><tr>
                <th scope="col">Line</th>
                <th scope="col">Family name</th>
                <th scope="col">Given name</th>
                <th scope="col">Number</th>
                <th scope="col">Mail</th>
                <th scope="col">Section</th>
                <th scope="col">What becomes of it</th>
              </tr></ng-template
            >
            <ng-template #body let-l let-i="rowIndex" [ltRows]="lines()">
              <tr [class.refused]="fates()[i]!.fate === 'refused'">
                <td class="quiet mono">{{ read().people[i]!.line }}</td>
                <td>{{ l.family }}</td>
                <td>{{ l.given }}</td>
                <td class="mono">{{ l.number }}</td>
                <td>{{ l.mail }}</td>
                <td>{{ l.section }}</td>
                <td>
                  <b>{{ word(fates()[i]!.fate) }}</b> <span class="quiet">{{ fates()[i]!.message }}</span>
                </td>
              </tr>
            </ng-template>
          </p-table>
        </div>
      }
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: 8px;
      margin-top: 12px;
    }
    section > label {
      color: var(--pencil);
    }
    textarea {
      font-family: var(--mono);
      width: 100%;
    }
    .line {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 12px;
      align-items: center;
    }
    .line [role='status'] {
      flex: 1;
    }
    #people-file:focus-visible + * {
      outline: none;
    }
    .rows {
      max-height: 420px;
      overflow: auto;
    }
    td b {
      margin-right: 8px;
    }
    .refused td {
      background: color-mix(in srgb, var(--red) 6%, var(--paper));
    }
    .refused b {
      color: var(--red);
    }
  `,
})
export class PeopleList {
  protected readonly MANY = MANY_ROWS;
  protected readonly ROW = ROW_HEIGHT;
  readonly sections = input.required<{ id: string; title: string }[]>();
  readonly reason = input('');
  readonly office = input(false);
  readonly done = output<number>();
  readonly leave = output<void>();
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly store = inject(BookStore);
  private readonly drafts = inject(KeptDrafts);
  protected readonly text = this.drafts.text(() => (this.store.id() ? peoplePlace(this.store.id()) : ''));
  protected readonly section = signal('');
  protected readonly sectionOptions = computed(() =>
    optionsOf(
      this.sections().map((s) => ({ id: s.title, title: s.title })),
      'no section',
    ),
  );
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly made = signal<{ text: string; made: RosterMade } | null>(null);

  protected readonly read = computed(() =>
    readPeople(
      this.text(),
      this.sections().map((s) => s.title),
    ),
  );
  protected readonly hasSections = computed(() => this.read().people.some((p) => p.section !== ''));
  protected readonly lines = computed(() =>
    this.read().people.map(({ line: _line, ...p }) => ({ ...p, section: p.section || this.section() })),
  );
  private readonly wish = computed(() => JSON.stringify(this.lines()));
  /** What is shown is of other lines than what is typed by now. */
  protected readonly stale = computed(() => this.made()?.text !== this.wish());
  protected readonly fates = computed(() => (this.stale() ? [] : (this.made()?.made.lines ?? [])));
  protected readonly todo = computed(
    () => this.fates().filter((f) => f.fate !== 'refused' && f.fate !== 'here').length,
  );
  protected readonly label = computed(() =>
    this.todo() === 0 ? 'Keep' : this.todo() === 1 ? 'Keep 1' : `Keep ${this.todo()}`,
  );
  protected readonly message = computed(() => {
    const fates = this.fates();
    if (fates.length === 0) return this.read().problems[0] ?? '';
    const parts = (Object.keys(FATES) as RosterFate['fate'][])
      .map((f) => ({ word: FATES[f], n: fates.filter((x) => x.fate === f).length }))
      .filter((p) => p.n > 0)
      .map((p) => `${p.n} ${p.word}`);
    const sections = this.made()?.made.sections ?? [];
    return `${parts.join(', ')}${sections.length > 0 ? `; new ${formOf(sections.length, 'section', 'sections')} ${listed(sections)}` : ''}`;
  });

  constructor() {
    let waiting: ReturnType<typeof setTimeout> | undefined;
    effect(() => {
      const wish = this.wish();
      clearTimeout(waiting);
      if (this.lines().length > 0) waiting = setTimeout(() => untracked(() => void this.look(wish)), 250);
    });
  }

  /** Leaves the list, and what was typed of it. */
  protected drop(): void {
    this.text.set('');
    this.leave.emit();
  }

  protected word(fate: RosterFate['fate']): string {
    return FATES[fate];
  }

  protected async file(event: Event): Promise<void> {
    const box = event.target as HTMLInputElement;
    const file = box.files?.[0];
    if (!file) return;
    if (file.size > 5_000_000) return this.problem.set('The file is larger than 5 MB: that is no list of students.');
    const bytes = new Uint8Array(await file.arrayBuffer());
    box.value = '';
    if (bytes.includes(0) && !(bytes[0] === 0xff || bytes[0] === 0xfe))
      return this.problem.set('This file is no text. Save the list as CSV first, or paste it from the spreadsheet.');
    this.problem.set('');
    this.text.set(decode(bytes).text);
  }

  private send(tryOnly: boolean): Promise<RosterMade> {
    return this.operations.submit<RosterMade>('POST', `/books/${this.store.id()}/people`, {
      try: tryOnly,
      lines: this.lines(),
      reason: this.reason().trim(),
    });
  }

  private async look(wish: string): Promise<void> {
    try {
      const made = await this.send(true);
      this.made.set({ text: wish, made });
      this.problem.set('');
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  protected async keep(): Promise<void> {
    if (this.office() && this.reason().trim() === '')
      return this.problem.set('The office changes a book only with a reason: say it above.');
    this.busy.set(true);
    this.problem.set('');
    try {
      await this.send(false);
      const done = this.todo();
      this.text.set('');
      this.done.emit(done);
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
