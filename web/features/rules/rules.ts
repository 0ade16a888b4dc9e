import { counted } from '@core/words/count';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { Counted, Form } from '../../ui/text/counted';
import { InputText } from 'primeng/inputtext';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import { Textarea } from 'primeng/textarea';
import { listAreas } from '@core/policy/words';
import { Api, ApiProblem, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { TrialPanel } from '../../ui/layout/trial-panel';
import { KeptTrials } from './trials/kept-trials';
import { KeptTrialsStore } from './trials/kept-trials-store';
import { RulesPaper } from './rules-paper';
import { PartView } from './sentences/view/part-view';
import { bandsOf } from './sentences/letters/scales';
import { GuidePlace } from '../../ui/layout/guide-place';
import { PARTS } from './sentences';
import { partOf } from './sentences/view/part-of';
import type { Part } from './sentences/sentence';
import { RuleEdit } from './rule-edit';
import { PolicyNotes } from './policy/policy-notes';
import { Suppose } from './trials/suppose';
import { TrialRun } from './trials/trial-run';
import { sentenceKey } from './words/warnings';
import type { RulesState } from '@contract/rules';
import { listName } from '../../ui/text/list-name';

/** The rules as sentences. A change is a trial until it is made, with a reason. */
@Component({
  selector: 'lt-rules',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Counted,
    Form,
    InputText,
    FormsModule,
    RouterLink,
    Button,
    Textarea,
    KeptTrials,
    PartView,
    RulesPaper,
    Suppose,
    TrialPanel,
  ],
  providers: [PolicyNotes, TrialRun, RuleEdit, KeptTrialsStore],
  templateUrl: './rules.html',
  styleUrl: './rules.css',
  host: { '(keydown)': 'key($event)' },
})
export class RulesPage {
  protected readonly store = inject(BookStore);
  protected readonly edit = inject(RuleEdit);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  protected readonly parts = PARTS;
  /** An assessment whose rules alone are looked at, from its working. */
  readonly of = input<string>();
  /** The part that is open. Without an assessment in the address its part is gone too: the page is the same one then. */
  protected readonly part = linkedSignal<string | undefined, string>({
    source: this.of,
    computation: (of, before) =>
      of !== undefined ? 'of' : before && before.value !== 'of' ? before.value : PARTS[0]!.id,
  });
  protected readonly open = computed((): Part | null => {
    const of = this.of();
    if (this.part() === 'of' && of !== undefined) return partOf(of, this.store.titles()[of] ?? of);
    return PARTS.find((p) => p.id === this.part()) ?? null;
  });
  protected readonly kept = inject(KeptTrialsStore);
  private readonly school = inject(PolicyNotes);
  /** What went wrong last, on the page or beside it. */
  protected readonly trouble = computed(
    () => this.failure() || this.edit.failure() || this.kept.failure() || this.school.failure(),
  );
  /** A title is asked for, to keep the trial beside. */
  protected readonly naming = signal(false);
  protected readonly beside = computed(() => [
    ...(this.of() === undefined ? [] : [{ id: 'of', title: this.store.titles()[this.of()!] ?? '', count: 0 }]),
    { id: 'suppose', title: 'Suppose', count: this.edit.draft()?.supposed.length ?? 0 },
    { id: 'kept', title: 'Kept trials', count: this.kept.list().length },
    { id: 'paper', title: 'Paper and file', count: 0 },
  ]);
  /** In what the change departs from the school's rules: a reason is needed then. */
  protected readonly departs = computed(() => listAreas(this.edit.departs().free));
  protected readonly why = computed(() =>
    this.departs()
      ? `Why? This departs from the school’s rules for ${this.departs()}, and the office reads it.`
      : 'Why? It stands in the journal beside the change.',
  );
  private readonly reasonBox = viewChild<ElementRef<HTMLTextAreaElement>>('reasonBox');
  protected readonly mayMake = computed(
    () =>
      this.edit.problems().length === 0 &&
      this.edit.refused() === '' &&
      (!this.departs() || this.reason().trim() !== ''),
  );
  protected readonly asking = signal(false);
  protected readonly reason = signal('');
  protected readonly busy = signal(false);
  protected readonly failure = signal('');
  protected readonly theirs = signal(false);
  protected readonly bands = computed(() => (this.edit.draft() ? bandsOf(this.edit.draft()!) : []));
  protected readonly names = computed(() =>
    Object.fromEntries([...this.store.people()].map(([id, p]) => [id, listName(p)])),
  );
  /** Movers who read a standing now. */
  protected readonly readers = computed(() => {
    const readers = new Set(this.store.page()?.readers ?? []);
    return this.edit.trial()?.movers.filter((m) => readers.has(m.student)).length ?? 0;
  });
  /** Nothing but scores and states is tried. */
  protected readonly onlySupposed = computed(
    () => (this.edit.draft()?.supposed.length ?? 0) > 0 && this.edit.changed().size === 0,
  );
  /** How many warnings each part has. */
  protected readonly cautions = computed(() => {
    const counts = new Map<string, number>();
    for (const key of this.edit.beside().beside.keys()) {
      const part = PARTS.find((p) => key.startsWith(sentenceKey(p.id, '')))!.id;
      counts.set(part, (counts.get(part) ?? 0) + this.edit.beside().beside.get(key)!.length);
    }
    return counts;
  });

  constructor() {
    // One is asked why: the words can be typed at once.
    effect(() => this.reasonBox()?.nativeElement.focus());
    effect(() => {
      if (this.store.id() && this.store.mayManage()) untracked(() => void this.kept.load());
    });
    const guide = inject(GuidePlace);
    effect(() => guide.own.set(PARTS.some((p) => p.id === this.part()) ? `rules/${this.part()}` : null));
    inject(DestroyRef).onDestroy(() => guide.own.set(null));
    effect(() => {
      const trying = this.edit.trying();
      const title = this.open()?.title ?? this.beside().find((b) => b.id === this.part())!.title;
      const makes = this.store.mayManage();
      untracked(() => {
        this.statusBar.setIdle(
          trying
            ? `${title} · trial not yet made`
            : makes
              ? 'Change a word: the trial shows who would move.'
              : 'The rules of this book. Its teachers change them.',
          trying,
        );
        this.statusBar.keys.set(
          makes
            ? [
                { key: 'Tab', label: 'next word' },
                { key: '↑ ↓', label: 'change it' },
                ...(trying ? [{ key: 'Ctrl+Enter', label: 'make it the rule' }] : []),
              ]
            : [],
        );
      });
    });
  }

  /** The trial on paper, with the sentences that are tried. */
  protected print(): void {
    globalThis.print();
  }

  protected async keepBeside(title: string): Promise<void> {
    if (!(await this.kept.keep(title))) return;
    this.naming.set(false);
    this.drop();
    this.part.set('kept');
  }

  protected drop(): void {
    this.edit.drop();
    this.asking.set(false);
    this.naming.set(false);
    this.failure.set('');
    this.theirs.set(false);
  }

  protected key(event: KeyboardEvent): void {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      // The word that is being changed is taken in first.
      (document.activeElement as HTMLElement | null)?.dispatchEvent(new Event('change', { bubbles: true }));
      if (!this.edit.trying() || this.edit.problems().length > 0 || this.edit.refused()) return;
      event.preventDefault();
      if (this.asking()) void this.make();
      else this.asking.set(true);
    } else if (event.key === 'Escape' && this.asking()) this.asking.set(false);
  }

  protected async make(): Promise<void> {
    const tried = this.edit.write();
    if (!tried || this.busy() || !this.mayMake()) return;
    this.busy.set(true);
    this.failure.set('');
    try {
      const write = { ...tried, reason: this.reason().trim() };
      await this.operations.submit<RulesState>('PUT', `/books/${this.store.id()}/rules`, write);
      const supposed = this.onlySupposed();
      const moved = this.edit.trial()?.movers.length ?? 0;
      this.asking.set(false);
      this.reason.set('');
      await this.store.reload();
      this.edit.drop();
      this.statusBar.announce(
        `${supposed ? 'It is so now' : 'The rule is made'}. ${counted(moved, 'student has', 'students have')} moved.`,
      );
    } catch (error) {
      this.failure.set(messageOf(error));
      this.theirs.set(error instanceof ApiProblem && error.code === 'stale');
    } finally {
      this.busy.set(false);
    }
  }

  /** After somebody else changed the rules: theirs are loaded, and what one had tried is dropped. */
  protected async lookAtTheirs(): Promise<void> {
    this.drop();
    await this.store.reload();
  }
}
