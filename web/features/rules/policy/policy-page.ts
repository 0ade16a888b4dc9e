import { counted } from '@core/words/count';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
  viewChild,
  type ElementRef,
} from '@angular/core';
import type { OnDestroy } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { Textarea } from 'primeng/textarea';
import type { SchoolRulesVersions } from '@contract/policy';
import { StatusBar } from '../../../ui/layout/status-bar';
import { sessionFeature } from '../../../data/session';
import { Breadcrumbs } from '../../../ui/layout/breadcrumbs';
import { longDay, schoolNow } from '../../../ui/text/dates';
import { departureWords } from '../words/departure-words';
import { LatePicture } from '../pictures/late-picture';
import { ruleOf } from '../draft';
import { RuleSentence } from '../sentences/view/rule-sentence';
import type { Sentence } from '../sentences/sentence';
import { otherWords, wordsOf } from '../words/words';
import { schoolDraftOf, type SchoolDraft } from './policy-draft';
import { PolicyEdit } from './policy-edit';
import { policyParts } from './policy-parts';
import { PolicyRolloutView } from './policy-rollout-view';

const NOTHING: ReadonlySet<string> = new Set();
const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The rules that the office keeps for the books of the school. A change is a trial over all of them first. */
@Component({
  selector: 'lt-school-rules',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, RouterLink, Button, Textarea, LatePicture, RuleSentence, PolicyRolloutView],
  providers: [PolicyEdit],
  templateUrl: './policy-page.html',
  styleUrls: ['../rules.css', '../sentences/view/part-head.css', './policy-page.css'],
  host: { '(keydown)': 'key($event)' },
})
export class PolicyPage implements OnDestroy {
  protected readonly edit = inject(PolicyEdit);
  private readonly statusBar = inject(StatusBar);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  protected readonly parts = policyParts(schoolNow().slice(0, 10));
  protected readonly at = signal<string>(this.parts[0]!.id);
  protected readonly part = computed(() => this.parts.find((p) => p.id === this.at()) ?? null);
  protected readonly asking = signal(false);
  protected readonly reason = signal('');
  protected readonly words = departureWords;

  protected readonly sentences = computed(() => this.draftSentences().get(this.at()) ?? []);
  private readonly draftSentences = computed(() => this.sentencesOf(this.edit.draft()));
  private readonly nowWords = computed(() => wordsOf(this.sentencesOf(this.edit.now())));
  private readonly draftWords = computed(() => wordsOf(this.draftSentences()));
  /** Parts in which something is tried. */
  protected readonly changed = computed(
    () =>
      new Set(
        this.parts
          .filter((p) => this.nowWords().get(p.id)!.text !== this.draftWords().get(p.id)!.text)
          .map((p) => p.id),
      ),
  );
  private readonly changedWords = computed(() => otherWords(this.draftSentences(), this.nowWords(), this.draftWords()));

  private readonly reasonBox = viewChild<ElementRef<HTMLTextAreaElement>>('reasonBox');

  constructor() {
    // One is asked why: the words can be typed at once.
    effect(() => this.reasonBox()?.nativeElement.focus());
    inject(Breadcrumbs).set(this.me()?.school ?? '', { label: 'Office', link: '/office' }, 'School rules');
    void this.edit.load();
    effect(() => {
      const trying = this.edit.trying();
      untracked(() => {
        this.statusBar.setIdle(
          trying ? 'School rules · trial not yet made' : 'Change a word: every book of the school is tried with it.',
          trying,
        );
        this.statusBar.keys.set([
          { key: 'Tab', label: 'next word' },
          { key: '↑ ↓', label: 'change it' },
          ...(trying ? [{ key: 'Ctrl+Enter', label: 'make it the rule' }] : []),
        ]);
      });
    });
  }

  ngOnDestroy(): void {
    this.edit.drop();
  }

  private sentencesOf(draft: SchoolDraft | null): Map<string, Sentence[]> {
    return new Map(this.parts.map((p) => [p.id, draft ? p.sentences(draft) : []]));
  }

  protected changedIn(s: Sentence): ReadonlySet<string> {
    return this.changedWords().get(s.id) ?? NOTHING;
  }

  /** What is wrong with the words of a sentence. */
  protected wrong(s: Sentence): string[] {
    return this.edit
      .problems()
      .filter((p) => (s.about ?? []).some((about) => p.at === about || p.at.startsWith(`${about}/`)))
      .map((p) => p.says);
  }

  /** Below the last sentence of a late rule: what it takes, drawn. */
  protected lateOf(s: Sentence, which: 'now' | 'draft') {
    const name = /^late (.+) floor$/.exec(s.id)?.[1];
    const draft = this.edit[which]();
    return name !== undefined && draft ? ruleOf(draft, 'late', name) : undefined;
  }

  protected day(at: string): string {
    return longDay(at, ZONE);
  }

  protected lookAt(v: SchoolRulesVersions[number]): void {
    this.edit.try(schoolDraftOf(v.rules));
    this.at.set(this.parts[0]!.id);
  }

  protected key(event: KeyboardEvent): void {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      // The word that is being changed is taken in first.
      (document.activeElement as HTMLElement | null)?.dispatchEvent(new Event('change', { bubbles: true }));
      if (!this.edit.trying() || this.edit.problems().length > 0) return;
      event.preventDefault();
      if (this.asking()) void this.make();
      else this.asking.set(true);
    } else if (event.key === 'Escape' && this.asking()) this.asking.set(false);
  }

  protected drop(): void {
    this.edit.drop();
    this.asking.set(false);
    this.reason.set('');
  }

  /** After somebody else was first: theirs are loaded, and what one had tried is dropped. */
  protected lookAtTheirs(): Promise<void> {
    this.drop();
    return this.edit.load();
  }

  protected async make(): Promise<void> {
    if (this.reason().trim() === '') return;
    if (!(await this.edit.make(this.reason().trim()))) return;
    this.asking.set(false);
    this.reason.set('');
    const books = this.edit.rollout()?.books ?? [];
    const took = books.filter((b) => b.state === 'takes').length;
    const refused = books.filter((b) => b.state === 'refused').length;
    this.statusBar.announce(
      `The school’s rules are made. ${counted(took, 'book has', 'books have')} taken them on${refused > 0 ? `; ${refused} could not` : ''}.`,
    );
  }
}
