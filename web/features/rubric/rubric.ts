import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import { canonical } from '@core/book/canonical';
import { csvText } from '@core/export/csv';
import { decode } from '@core/import/table';
import type { Rubric } from '@core/rubric/document';
import { readRubricTable, rubricTable } from '@core/rubric/table';
import type { RubricChoices, RubricPage as RubricAnswer, RubricState, RubricTrial } from '@contract/work/marking';
import { Api, ApiProblem, messageOf, newOperation } from '../../data/api';
import { BookStore } from '../../data/book';
import { KeptDrafts } from '../../data/kept-drafts';
import { Operations } from '../../data/operations';
import { Walk } from '../../data/work/walk';
import { fileName, save } from '../../ui/chart/picture-file';
import { AskText, type Question } from '../../ui/form/ask-text';
import { Choice } from '../../ui/form/choice';
import { StatusBar } from '../../ui/layout/status-bar';
import { dayAndTime } from '../../ui/text/dates';
import { ClassLevels } from './class-levels';
import { CriterionEditor } from './criterion-editor';
import { differs, EMPTY, faultsOf, maximumText, moved, newCriterion, toDraft, toRubric, type CriterionDraft, type RubricDraft } from './rubric-draft'; // prettier-ignore
import { readRubricFile, rubricFileText } from './rubric-file';
import { RubricTrialList } from './rubric-trial';

/** What is typed, and over which version. */
interface Left {
  version: number;
  draft: RubricDraft;
}

/** Milliseconds after the last key until what a change would do is looked at. */
const TRIED_AFTER = 400;
const BY = [
  { value: 'points', text: 'by points' },
  { value: 'weights', text: 'by weights' },
];

/** What an assessment is marked by: criteria with their levels, made, pasted, copied, changed with a trial. */
@Component({
  selector: 'lt-rubric',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AskText, Button, Choice, ClassLevels, CriterionEditor, RouterLink, RubricTrialList],
  templateUrl: './rubric.html',
  styleUrl: './rubric.css',
  host: { role: 'main', '(document:keydown.control.enter)': 'keep()' },
})
export class RubricPage {
  readonly assessment = input.required<string>();
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly kept = inject(KeptDrafts);
  private readonly walk = inject(Walk);
  private readonly router = inject(Router);
  private readonly statusBar = inject(StatusBar);
  protected readonly BY = BY;
  protected readonly item = computed(() => this.store.assessments().get(this.assessment()) ?? null);
  protected readonly page = signal<RubricAnswer | null>(null);
  private readonly left = signal<Left | null>(null);
  protected readonly choices = signal<RubricChoices>([]);
  protected readonly problem = signal('');
  protected readonly notes = signal<string[]>([]);
  protected readonly busy = signal(false);
  protected readonly question = signal<Question | null>(null);
  protected readonly trial = signal<RubricTrial | null>(null);

  protected readonly draft = computed(
    (): RubricDraft => this.left()?.draft ?? (this.now() ? toDraft(this.now()!) : EMPTY),
  );
  private readonly now = computed(() => this.page()?.now.rubric ?? null);
  protected readonly rubric = computed(() => toRubric(this.draft()));
  /** The rubric that would be kept; null: none. */
  private readonly next = computed(() => (this.draft().criteria.length === 0 ? null : this.rubric()));
  protected readonly changed = computed(
    () => this.page() !== null && canonical(this.next()) !== canonical(this.now()) && this.left() !== null,
  );
  protected readonly faults = computed(() => (this.draft().criteria.length === 0 ? new Map<string, string>() : faultsOf(this.rubric()))); // prettier-ignore
  protected readonly maximum = computed(() => maximumText(this.rubric()));
  protected readonly differs = computed(() => differs(this.rubric(), this.item()?.points ?? 0));
  protected readonly ready = computed(
    () => this.changed() && this.faults().size === 0 && !this.differs() && !this.busy() && this.store.mayManage(),
  );
  protected readonly copies = computed(() =>
    this.choices()
      .filter((c) => c.book !== this.store.id() || c.assessment !== this.assessment())
      .map((c) => ({ value: `${c.book} ${c.assessment}`, text: `${c.title}, ${c.bookTitle}` })),
  );

  constructor() {
    effect(() => {
      const path = this.path();
      if (path !== '') untracked(() => void this.load(path));
    });
    effect((onCleanup) => {
      const [next, path, ready] = [this.next(), this.path(), this.ready()];
      if (!ready) return untracked(() => this.trial.set(null));
      const timer = setTimeout(() => void this.tryOut(path, next), TRIED_AFTER);
      onCleanup(() => clearTimeout(timer));
    });
    const keys = [{ key: 'Ctrl+Enter', label: 'keep the rubric' }];
    this.statusBar.keys.set(keys);
    effect(() => this.statusBar.setIdle(this.idle(), false));
  }

  private idle(): string {
    const now = this.page()?.now;
    if (!now) return '';
    return now.rubric ? `Version ${now.version}, by ${now.by}.` : 'No rubric yet.';
  }

  private path(more = 'rubric'): string {
    const book = this.store.id();
    return book && this.store.page() ? `/books/${book}/assessments/${this.assessment()}/${more}` : '';
  }

  protected async load(path = this.path()): Promise<void> {
    try {
      const page = await this.api.get<RubricAnswer>(path);
      if (this.path() !== path) return;
      this.page.set(page);
      this.left.set(this.kept.read<Left>(path));
      this.problem.set('');
      if (this.store.mayManage()) this.choices.set(await this.api.get<RubricChoices>('/rubrics'));
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  private async tryOut(path: string, rubric: Rubric | null): Promise<void> {
    try {
      const trial = await this.api.send<RubricTrial>('POST', `${path}/trial`, { rubric });
      if (this.next() === rubric || canonical(this.next()) === canonical(rubric)) this.trial.set(trial);
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  protected set(draft: RubricDraft): void {
    this.put({ version: this.left()?.version ?? this.page()!.now.version, draft });
    this.problem.set('');
  }

  private put(left: Left): void {
    this.left.set(left);
    this.trial.set(null);
    this.kept.keep(this.path(), left);
  }

  protected drop(): void {
    this.left.set(null);
    this.trial.set(null);
    this.problem.set('');
    this.notes.set([]);
    this.kept.keep(this.path(), null);
  }

  protected setBy(by: string): void {
    const criteria = this.draft().criteria.map((c) => ({ ...c, weight: c.weight || '1' }));
    this.set({ ...this.draft(), by: by as Rubric['by'], criteria });
  }

  protected setCriterion(c: CriterionDraft): void {
    this.set({ ...this.draft(), criteria: this.draft().criteria.map((x) => (x.id === c.id ? c : x)) });
  }

  protected move(id: string, by: 1 | -1): void {
    this.set({ ...this.draft(), criteria: moved(this.draft().criteria, id, by) });
  }

  protected remove(id: string): void {
    this.set({ ...this.draft(), criteria: this.draft().criteria.filter((c) => c.id !== id) });
  }

  protected add(): void {
    this.set({ ...this.draft(), criteria: [...this.draft().criteria, newCriterion(newOperation)] });
  }

  protected takeOff(): void {
    this.set(EMPTY);
  }

  /** An earlier version, or another assessment's rubric, as what is typed. */
  protected take(rubric: Rubric): void {
    this.set(toDraft(rubric));
  }

  protected async copy(from: string): Promise<void> {
    const [book, assessment] = from.split(' ');
    try {
      const page = await this.api.get<RubricAnswer>(`/books/${book}/assessments/${assessment}/rubric`);
      if (page.now.rubric) this.take(page.now.rubric);
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  protected askTable(): void {
    this.question.set({
      ...{ id: 'table', title: 'Paste a table', value: '', does: 'Take it', most: 100_000, long: true },
      label: 'A criterion in each row: its title, then a cell for each level with its points and words.',
    });
  }

  protected pasted(text: string): void {
    const read = readRubricTable(text, newOperation);
    if (typeof read === 'string') return this.question.update((q) => q && { ...q, value: text, problem: read });
    this.question.set(null);
    this.take(read.rubric);
    this.notes.set(read.notes);
  }

  protected async picked(event: Event): Promise<void> {
    const box = event.target as HTMLInputElement;
    const [file] = [...(box.files ?? [])];
    box.value = '';
    if (!file) return;
    if (file.size > 1_000_000) return this.problem.set('This file is larger than a rubric can be.');
    const read = readRubricFile(decode(new Uint8Array(await file.arrayBuffer())).text, newOperation);
    if (typeof read === 'string') return this.problem.set(`${file.name}: ${read}`);
    this.take(read.rubric);
    this.notes.set(read.notes);
  }

  protected saveCsv(): void {
    this.saveFile('csv', csvText(rubricTable(this.rubric())), 'text/csv');
  }

  protected saveJson(): void {
    this.saveFile('json', rubricFileText(this.rubric()), 'application/json');
  }

  private saveFile(end: string, text: string, type: string): void {
    save(fileName(`Rubric ${this.item()?.title ?? ''}`, end), new Blob([text], { type }));
  }

  protected when(r: RubricState): string {
    return r.at === null ? '' : dayAndTime(r.at, this.store.page()?.timeZone ?? 'UTC');
  }

  protected async keep(): Promise<void> {
    const left = this.left();
    if (!left || !this.ready() || !this.trial() || this.question()) return;
    this.busy.set(true);
    this.problem.set('');
    try {
      const { trial, moves } = this.trial()!;
      const body = { version: left.version, rubric: this.next(), trial };
      this.page.set(await this.operations.submit<RubricAnswer>('PUT', this.path(), body));
      // What was typed while it was being kept goes on, over what stands there now.
      if (this.left() === left) this.drop();
      else this.put({ version: this.page()!.now.version, draft: this.left()!.draft });
      this.statusBar.announce('Kept: work is marked by it from now on.');
      if (moves.length > 0) this.offerWalk(moves.map((m) => m.enrolment));
    } catch (error) {
      // What is typed stays, over what stands there now, with what it would change then.
      if (error instanceof ApiProblem && error.code === 'stale') await this.takeTheirs(left);
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  private async takeTheirs(left: Left): Promise<void> {
    const page = await this.api.get<RubricAnswer>(this.path());
    this.page.set(page);
    this.left.set({ ...left, version: page.now.version });
  }

  /** Who is to be looked through, since what they were marked by is not what it was. */
  protected readonly touched = signal<string[]>([]);
  private offerWalk(enrolments: string[]): void {
    this.touched.set([...new Set(enrolments)]);
  }

  protected lookThrough(): void {
    const why = 'whose work the changed rubric concerns';
    this.walk.begin({ book: this.store.id(), assessment: this.assessment(), why, enrolments: this.touched() });
    void this.router.navigate(['/book', this.store.id(), 'marking', this.assessment()]);
  }
}
