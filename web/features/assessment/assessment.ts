import { counted } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Counted } from '../../ui/text/counted';
import { RadioButton } from 'primeng/radiobutton';
import { Checkbox } from 'primeng/checkbox';
import { Choice } from '../../ui/form/choice';
import { Textarea } from 'primeng/textarea';
import { InputText } from 'primeng/inputtext';
import { Router, RouterLink } from '@angular/router';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import type { AssessmentList, AssessmentMade, AssessmentWhole } from '@contract/assessments';
import { Api, ApiProblem, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { TrialPanel } from '../../ui/layout/trial-panel';
import { AssessmentEdits } from './assessment-edits';
import { AssessmentLeft, type LeftChanges } from './assessment-left';
import { AssessmentOptions, WORDS } from './assessment-options';
import { AssessmentTrial, type ScoreWay } from './assessment-trial';
import { changesOf, draftOf, faultOf } from './draft';
import { AttemptSentence } from './attempt-sentence';
import { DateSentences } from './date-sentences';
import { WorkSettings } from './work-settings';
import { InstructionsBox } from './instructions-box';
import { OtherPlaces } from './other-places';
import { SchoolChoices } from './school-choices';
import { listName } from '../../ui/text/list-name';

/** Everything of one assessment, read and changed in sentences. What a change would do is worked out before it is kept. */
@Component({
  selector: 'lt-one-assessment',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Counted,
    RadioButton,
    Checkbox,
    Choice,
    Textarea,
    InputText,
    FormsModule,
    RouterLink,
    Button,
    DateSentences,
    AttemptSentence,
    TrialPanel,
    OtherPlaces,
    WorkSettings,
    InstructionsBox,
  ],
  providers: [AssessmentLeft, AssessmentEdits, SchoolChoices, AssessmentOptions, AssessmentTrial],
  templateUrl: './assessment.html',
  styleUrl: './assessment.css',
  host: { role: 'main', '(keydown.control.enter)': 'keep()' },
})
export class AssessmentPage {
  /** The assessment's id, from the address. */
  readonly assessment = input.required<string>();
  protected readonly store = inject(BookStore);
  protected readonly school = inject(SchoolChoices);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly left = inject(AssessmentLeft);
  private readonly statusBar = inject(StatusBar);
  private readonly router = inject(Router);

  protected readonly edits = inject(AssessmentEdits);
  protected readonly was = this.edits.was;
  protected readonly draft = this.edits.draft;
  protected readonly problem = signal('');
  protected readonly failure = this.edits.failure;
  protected readonly busy = signal(false);
  protected readonly reason = signal('');
  protected readonly scores = signal<ScoreWay | null>(null);
  protected readonly telling = signal(false);
  protected readonly tell = signal('');
  /** Another number, boxes made anew: what is typed into one outlives its draft otherwise. */
  protected readonly round = signal(0);

  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  protected readonly near = computed(() => this.was()?.due ?? this.store.page()?.asOf ?? '2026-01-01T00:00:00Z');
  protected readonly byWeight = computed(
    () => this.choices.categories().find((c) => c.id === this.draft()?.category)?.weights === true,
  );
  protected readonly WORDS = WORDS;
  protected readonly choices = inject(AssessmentOptions);
  protected readonly trials = inject(AssessmentTrial);
  protected readonly trial = computed(() => this.trials.of(this.scores()));
  protected readonly sections = computed(() => this.store.page()?.sections ?? []);
  protected readonly changes = computed(() => {
    const [was, draft] = [this.was(), this.draft()];
    return was && draft ? changesOf(was, draft) : {};
  });
  protected readonly changed = computed(() => Object.keys(this.changes()).length > 0);
  protected readonly fault = computed(() => {
    const draft = this.draft();
    return draft === null
      ? ''
      : this.edits.badDays().size > 0
        ? 'What stands in a box for a day is no day, such as 27 Nov 17:00.'
        : faultOf(draft);
  });
  /** Points change and there are scores: it is asked what becomes of them. */
  protected readonly asks = computed(() => 'points' in this.changes() && (this.was()?.scored ?? 0) > 0);
  protected readonly names = computed(() =>
    Object.fromEntries([...this.store.people()].map(([id, p]) => [id, listName(p)])),
  );
  protected readonly edges = computed(() => {
    const rules = this.store.rules();
    return (rules?.scale ? rules.rules?.scales?.[rules.scale]?.bands : undefined) ?? [];
  });
  protected readonly ready = computed(
    () =>
      this.changed() &&
      this.fault() === '' &&
      this.trials.problem() === '' &&
      !(this.asks() && this.scores() === null) &&
      !(this.telling() && this.tell().trim() === '') &&
      !this.busy(),
  );

  constructor() {
    const keys = [{ key: 'Ctrl+Enter', label: 'keep the changes' }];
    this.statusBar.keys.set([...keys, { key: '?', label: 'all keys' }]);
    this.statusBar.sheet.set([{ title: 'One assessment', keys }]);
    effect(() => {
      this.assessment();
      if (!this.store.id() || !this.store.page()) return;
      untracked(() => void this.load(this.was()?.id !== this.assessment()));
      untracked(() => void this.school.load());
    });
    effect(() => {
      const [was, leaving] = [this.was(), this.leaving()];
      if (was?.id === this.assessment()) this.left.keep(was.id, leaving);
    });
    effect(() => {
      const [was, draft] = [this.was(), this.draft()];
      this.store.revision();
      if (was && draft && this.store.cells()) untracked(() => void this.trials.tryOut(was, draft));
    });
  }

  /** What is being changed, to be there again when one comes back; null: nothing is. */
  private readonly leaving = computed((): LeftChanges | null => {
    const [was, draft] = [this.was(), this.draft()];
    if (!was || !draft || !this.changed()) return null;
    return {
      ...{ version: was.version, draft, reason: this.reason(), scores: this.scores() },
      tell: this.telling() ? this.tell() : null,
    };
  });

  /** Goes on with what was left, on the version that was seen then: what others did since is not overwritten. */
  private takeUp(): void {
    const left = this.left.read(this.assessment());
    if (!left) return;
    this.was.update((w) => w && { ...w, version: left.version });
    this.draft.set(left.draft);
    this.reason.set(left.reason);
    this.scores.set(left.scores);
    this.telling.set(left.tell !== null);
    this.tell.set(left.tell ?? '');
    this.statusBar.announce('What you had begun to change is here again.');
  }

  protected async load(anew: boolean): Promise<void> {
    try {
      const all = await this.api.get<AssessmentList>(`/books/${this.store.id()}/assessments`);
      const found = all.find((a) => a.id === this.assessment());
      if (!found) return this.problem.set('There is no such assessment in this book. It may have been deleted.');
      this.problem.set('');
      if (!anew && this.was()?.version === found.version) return this.was.set(found);
      if (!anew && this.changed()) return;
      this.begin(found);
      this.takeUp();
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  private begin(found: AssessmentWhole): void {
    this.round.update((n) => n + 1);
    this.was.set(found);
    this.draft.set(draftOf(found));
    this.scores.set(null);
    this.telling.set(false);
    this.tell.set('');
    this.reason.set('');
    this.edits.badDays.set(new Set());
    this.failure.set('');
  }

  protected tellThem(on: boolean): void {
    this.telling.set(on);
    const [was, draft] = [this.was(), this.draft()];
    if (on && was && draft && this.tell() === '')
      this.tell.set(
        'points' in this.changes()
          ? `${was.title} is now out of ${counted(draft.points, 'point')}, no longer ${was.points}. ${this.scores() === 'keep-percentages' ? 'Your score was changed so that its percentage stays.' : 'Your points stay what they were.'}`
          : `${was.title} was changed.`,
      );
  }

  protected async drop(): Promise<void> {
    this.left.keep(this.assessment(), null);
    await this.load(true);
  }

  protected keep(): Promise<void> {
    return this.ready() ? this.send(this.changes()) : Promise.resolve();
  }

  protected putAway(away: boolean): Promise<void> {
    return this.send({ archived: away });
  }

  private async send(changes: object): Promise<void> {
    const was = this.was();
    if (!was || this.busy()) return;
    const wish = {
      version: was.version,
      ...changes,
      ...(this.asks() && this.scores() ? { scores: this.scores() } : {}),
      reason: this.reason().trim(),
      tell: this.telling() ? this.tell().trim() : null,
    };
    this.busy.set(true);
    this.failure.set('');
    try {
      const made = await this.operations.submit<AssessmentMade>(
        'PATCH',
        `/books/${this.store.id()}/assessments/${was.id}`,
        wish,
      );
      this.begin(made.assessment);
      await this.store.reload();
      this.statusBar.announce(
        [
          `${made.assessment.title}: kept.`,
          made.cells > 0
            ? `${counted(made.cells, 'score keeps its percentage', 'scores keep their percentages')}.`
            : '',
          made.told > 0 ? `${counted(made.told, 'student is', 'students are')} told.` : '',
        ]
          .filter(Boolean)
          .join(' '),
      );
    } catch (error) {
      this.failure.set(messageOf(error));
      if (error instanceof ApiProblem && error.code === 'stale' && error.now)
        this.was.set(error.now as AssessmentWhole);
    } finally {
      this.busy.set(false);
    }
  }

  protected async remove(): Promise<void> {
    const was = this.was();
    if (!was || this.busy()) return;
    this.busy.set(true);
    try {
      await this.operations.submit('DELETE', `/books/${this.store.id()}/assessments/${was.id}`, {
        version: was.version,
      });
      this.left.keep(was.id, null);
      await this.store.reload();
      await this.router.navigate(['/book', this.store.id(), 'assessments']);
      this.statusBar.announce(`${was.title} is deleted.`);
    } catch (error) {
      this.failure.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
