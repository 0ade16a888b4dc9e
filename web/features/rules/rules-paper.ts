import { listed } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Button } from 'primeng/button';
import { readRulesFile } from '@core/book/rules-file';
import { messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { fileName, save } from '../../ui/chart/picture-file';
import { RuleEdit } from './rule-edit';
import { PARTS } from './sentences';
import { plainWords } from './sentences/sentence';

/** The rules in plain words for the course handbook, and as a file that leaves and comes in. */
@Component({
  selector: 'lt-rules-paper',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button],
  template: `
    <h2>On paper and as a file</h2>
    <div class="acts">
      <p-button label="Print it" (onClick)="print()" />
      <p-button label="Save as a file" [outlined]="true" (onClick)="saveFile()" />
      @if (!edit.fixed()) {
        <p-button label="Bring in a file …" [outlined]="true" (onClick)="picker.click()" />
        <input
          #picker
          class="unseen"
          type="file"
          accept=".json,application/json"
          tabindex="-1"
          aria-label="A file of rules"
          (change)="read($event)"
        />
      }
    </div>
    <p class="quiet lead">
      The file holds rules and categories with the settings of every assessment, and nobody’s scores. One that comes in
      is a trial first. {{ edit.trying() ? 'What is printed and saved here is what is on trial.' : '' }}
    </p>
    @for (p of problems(); track p) {
      <p class="problem" role="alert">{{ p }}</p>
    }
    @for (n of notes(); track n) {
      <p class="know">{{ n }}</p>
    }
    <article>
      <h3>{{ title() }}: how the grade is worked out</h3>
      @for (p of parts(); track p.title) {
        <h4>{{ p.title }}</h4>
        @for (s of p.sentences; track s.id) {
          <p [style.margin-left.px]="s.depth * 18">{{ s.text }}</p>
        }
      }
    </article>
  `,
  styleUrl: './sentences/view/part-head.css',
  styles: `
    .acts {
      display: flex;
      flex-wrap: wrap;
      gap: 10px;
    }
    article {
      margin-top: 16px;
      padding: 22px 26px;
      border: 1px solid var(--rule);
      max-width: 52em;
    }
    article h3 {
      font-size: 20px;
    }
    article h4 {
      margin: 14px 0 4px;
      font: 600 15px var(--serif);
    }
    article p {
      font: 14px/1.5 var(--serif);
      overflow-wrap: anywhere;
    }
    @media print {
      h2,
      .acts,
      .lead,
      .know {
        display: none;
      }
      article {
        border: 0;
        padding: 0;
        margin: 0;
      }
      article h4 {
        break-after: avoid;
      }
    }
  `,
})
export class RulesPaper {
  protected readonly edit = inject(RuleEdit);
  private readonly store = inject(BookStore);
  protected readonly problems = signal<string[]>([]);
  protected readonly notes = signal<string[]>([]);
  protected readonly title = computed(() => this.store.page()?.title ?? '');
  protected readonly parts = computed(() => {
    const draft = this.edit.draft();
    return PARTS.map((p) => ({
      title: p.title,
      sentences: (draft ? p.sentences(draft) : [])
        // What only leads on to another choice says nothing on paper.
        .filter((s) => !s.onlyHere)
        .map((s) => ({ id: s.id, depth: s.depth ?? 0, text: plainWords(s) })),
    })).filter((p) => p.sentences.length > 0);
  });

  protected print(): void {
    globalThis.print();
  }

  protected async saveFile(): Promise<void> {
    try {
      const text = await this.store.worker().rulesFile(this.edit.wish());
      save(fileName(`${this.title()} rules`, 'json'), new Blob([text], { type: 'application/json' }));
    } catch (error) {
      this.problems.set([messageOf(error)]);
    }
  }

  protected async read(event: Event): Promise<void> {
    const picker = event.target as HTMLInputElement;
    const file = picker.files?.[0];
    picker.value = '';
    if (!file) return;
    this.problems.set([]);
    this.notes.set([]);
    if (file.size > 10_000_000)
      return this.problems.set([`${file.name} is larger than 10 MB; rules alone are never that large.`]);
    const read = readRulesFile(await file.text(), await this.store.worker().placed());
    if ('problems' in read) {
      const { problems } = read;
      const more = problems.length > 6 ? [`And ${problems.length - 6} more.`] : [];
      return this.problems.set([
        `${file.name} cannot be used, and nothing was changed.`,
        ...problems.slice(0, 6).map((p) => (p.at ? `${p.at}: ${p.says}` : p.says)),
        ...more,
      ]);
    }
    const titles = (ids: string[]): string => listed(ids.slice(0, 8).map((id) => this.store.titles()[id] ?? id));
    const note = (ids: string[], says: string): string[] =>
      ids.length === 0 ? [] : [`${titles(ids)}${ids.length > 8 ? ` and ${ids.length - 8} more` : ''} ${says}`];
    this.notes.set([
      ...note(read.strange, 'of the file: not in this book, and left out.'),
      ...note(read.untold, 'of this book: not in the file, and keep their settings.'),
      ...note(read.homeless, 'would stand in the whole itself: their category is not in the file.'),
    ]);
    this.edit.tryWish(read.wish);
  }
}
