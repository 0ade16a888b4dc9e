import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, output, resource, signal, untracked } from '@angular/core'; // prettier-ignore
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import { Checkbox } from 'primeng/checkbox';
import { Dialog } from 'primeng/dialog';
import { Textarea } from 'primeng/textarea';
import { RELEASE_PARTS, type ReleasePart, type SeenSlip } from '@contract/slips';
import type { Released, ReleasePreview, ReleasePreviewWrite, ReleaseWrite } from '@contract/statements';
import { cellKey } from '@contract/wire/cell-key';
import { counted } from '@core/words/count';
import { Api, ApiProblem, messageOf } from '../data/api';
import { BookStore } from '../data/book';
import { BY_VALUE } from '../data/by-value';
import { Operations } from '../data/operations';
import { Outbox } from '../data/outbox/outbox';
import { MarkOutbox } from '../data/work/outbox/mark-outbox';
import { NoteOutbox } from '../data/work/outbox/note-outbox';
import { Slips } from '../data/work/slips';
import { ROWS } from '../ui/layout/rows';
import { DayBox } from '../ui/form/day-box';
import { Counted, Form } from '../ui/text/counted';
import { dayAndTime } from '../ui/text/dates';
import { inDecimals } from '../ui/text/locale';
import { beforeRelease, partWords, UNFINISHED_WORDS, type BeforeRelease } from './before-release';
import { placesOf, titlesOf, type ReleaseColumn } from './release-columns';
import { listName } from '../ui/text/list-name';

/** Names that are shown of a group; the rest is counted. */
const NAMES = 6;

/** What is about to be released to whom: said exactly, with what looks unfinished one step from its repair, then done. */
@Component({
  selector: 'lt-release-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, Checkbox, Counted, DayBox, Dialog, Form, FormsModule, ROWS, RouterLink, Textarea],
  templateUrl: './release-dialog.html',
  styleUrl: './release-dialog.css',
  host: { '(document:keydown)': 'key($event)' },
})
export class ReleaseDialog {
  /** One assessment or several, each to its students. */
  readonly columns = input.required<readonly ReleaseColumn[]>();
  /** How many see it now. */
  readonly released = output<number>();
  /** It is done by itself at this moment; null: when all are done. */
  readonly planned = output<string | null>();
  /** It was put off. */
  readonly gone = output();
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly slips = inject(Slips);
  private readonly outbox = inject(Outbox);
  private readonly notes = inject(NoteOutbox);
  private readonly marks = inject(MarkOutbox);
  protected readonly titles = computed(() => titlesOf(this.columns(), this.store.assessments()));
  /** Everybody of it, once. */
  protected readonly people = computed(() => [...new Set(this.columns().flatMap((c) => c.enrolments))]);
  /** Assessments that are planned already, where another of them could not be. */
  private readonly plannedOf = new Set<string>();
  protected readonly busy = signal(false);
  protected readonly failure = signal('');
  protected readonly wanted = signal<ReadonlySet<ReleasePart>>(new Set(RELEASE_PARTS));
  protected readonly moveRules = signal(true);
  protected readonly comment = signal('');
  /** When; null: now; undefined: what is typed is no day. */
  protected readonly at = signal<string | null | undefined>(null);
  /** Not at a moment, but when all are done. */
  protected readonly whenDone = signal(false);
  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  protected readonly near = computed(() => this.store.page()?.asOf ?? new Date().toISOString());
  /** What the button does. */
  protected readonly act = computed(() => {
    const at = this.at();
    if (this.whenDone()) return 'Plan it for then';
    return at ? `Plan it for ${dayAndTime(at, this.zone())}` : 'Release';
  });
  /** Why the rules are others, as the students read it. */
  protected readonly tell = linkedSignal(() => this.preview.hasValue() ? (this.preview.value()?.reasons.join('; ') ?? '') : ''); // prettier-ignore
  /** Something of it was typed and is not kept yet: it goes first, and comes along. */
  protected readonly waits = computed(() => {
    const book = this.store.id();
    const places = new Set(this.columns().flatMap((c) => c.enrolments.map((e) => cellKey(e, c.assessment))));
    const cells = this.outbox.unkept();
    if ([...cells.keys()].some((key) => places.has(key))) return true;
    // What cannot be kept as it is waits for its writer, and says so where it was made.
    if (this.marks.mine().some((m) => m.book === book && this.marks.refusal(m) === '')) return true;
    return [...this.notes.unkept()].some((key) => {
      const [b, a, enrolment, work] = key.split(' ') as [string, string, string, string];
      const here = b === book && places.has(cellKey(enrolment, a));
      return here && this.notes.refusal({ book: b, assessment: a, enrolment, work }) === '';
    });
  });
  // News of the book that leave this as it is ask nothing again: while that goes on nothing can be clicked.
  private readonly states = resource({
    params: computed(() => (this.waits() ? undefined : { book: this.store.id(), columns: this.columns() }), BY_VALUE),
    loader: ({ params: { book, columns } }) =>
      Promise.all(columns.map(async (c) => ({ ...c, states: await this.slips.states(book, c.assessment) }))),
  });
  /** Whose standing it would change. */
  protected readonly preview = resource({
    params: computed(() => {
      const shows = this.store.page()?.showsStanding && this.wanted().has('score');
      const [first, ...also] = placesOf(this.columns());
      const write: ReleasePreviewWrite = {
        ...first!,
        moveRules: this.moveRules(),
        ...(also.length > 0 ? { also } : {}),
      };
      return shows ? { book: this.store.id(), write } : undefined;
    }, BY_VALUE),
    loader: ({ params }) =>
      this.api.send<ReleasePreview>('POST', `/books/${params.book}/release/preview`, params.write),
  });
  /** Parts that somebody has something of, of those picked. */
  protected readonly there = computed(() => {
    const all = this.before();
    return all ? RELEASE_PARTS.filter((p) => p === 'score' || all.some((b) => b.have[p] > 0)) : [];
  });
  protected readonly parts = computed(() => RELEASE_PARTS.filter((p) => this.wanted().has(p)));
  /** What it shows of each assessment; null: not known yet. */
  protected readonly before = computed(() =>
    this.states.hasValue()
      ? this.states.value()!.map(({ assessment, enrolments, states }) => ({
          assessment,
          enrolments,
          ...beforeRelease(states, new Set(enrolments), this.parts()),
        }))
      : null,
  );
  /** Somebody sees something by it. */
  protected readonly any = computed(() => this.before()?.some((b) => b.having.length + b.unscored.length > 0) === true);
  /** What would be seen is known as it is now. */
  protected readonly ready = computed(
    () => this.before() !== null && !this.states.isLoading() && this.any() && this.at() !== undefined,
  );
  protected readonly moves = computed(() => (this.preview.hasValue() ? (this.preview.value()?.lines ?? null) : null));
  protected readonly byRules = computed(() => this.moves()?.filter((l) => l.byRules) ?? []);
  protected readonly words = UNFINISHED_WORDS;
  protected readonly NAMES = NAMES;

  constructor() {
    effect(() => {
      const error = this.states.error() ?? this.preview.error();
      if (error) untracked(() => this.failure.set(messageOf(error)));
    });
  }

  protected seen(b: BeforeRelease): string {
    return partWords(this.parts(), b.have);
  }

  protected titleOf(assessment: string): string {
    return this.store.assessments().get(assessment)?.title ?? '';
  }

  protected name(id: string): string {
    const p = this.store.people().get(id);
    return p ? listName(p) : '';
  }

  protected shown(s: ReleasePreview['lines'][number]['after']): string {
    return `${inDecimals(s.percent ?? 'none')}${s.letter === null ? '' : ` ${s.letter}`}`;
  }

  protected want(part: ReleasePart, on: boolean): void {
    this.wanted.update((was) => {
      const next = new Set(was);
      if (on) next.add(part);
      else next.delete(part);
      return next;
    });
  }

  /** Of those picked how many have it, where not all do. */
  protected share(part: ReleasePart): string {
    const [have, all] = [
      (this.before() ?? []).reduce((n, b) => n + b.have[part], 0),
      this.columns().reduce((n, c) => n + c.enrolments.length, 0),
    ];
    return part === 'score' || have === all ? '' : `${have} of ${counted(all, this.columns().length > 1 ? 'slip' : 'student')}`; // prettier-ignore
  }

  protected key(event: KeyboardEvent): void {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey) || event.repeat) return;
    event.preventDefault();
    event.stopPropagation();
    void this.release();
  }

  /** What was looked at, as the dialog had it. */
  private seenSlips(): SeenSlip[][] {
    return this.states.value()!.map(({ enrolments, states }) => {
      const those = new Set(enrolments);
      return states.students.flatMap((s) => (those.has(s.enrolment) ? [{ enrolment: s.enrolment, ...s.now }] : []));
    });
  }

  protected async release(): Promise<void> {
    const at = this.whenDone() ? null : this.at();
    if (this.busy() || !this.ready() || at === undefined) return;
    this.busy.set(true);
    this.failure.set('');
    const comment = this.people().length > 1 ? this.comment().trim() : '';
    const places = placesOf(this.columns());
    const write = {
      ...{ moveRules: this.moveRules(), parts: this.parts() },
      ...(comment === '' ? {} : { comment }),
      ...(this.byRules().length > 0 ? { tell: this.tell().trim() } : {}),
    };
    try {
      if (at !== null || this.whenDone()) {
        // Each is called off by itself, so each is planned by itself; what was planned already is not planned again.
        for (const place of places) {
          if (this.plannedOf.has(place.assessment)) continue;
          await this.operations.submit('POST', `/books/${this.store.id()}/planned-releases`, {
            ...write,
            ...place,
            at,
          });
          this.plannedOf.add(place.assessment);
        }
        return this.planned.emit(at);
      }
      const [first, ...also] = this.seenSlips().map((seen, i) => ({ ...places[i]!, seen }));
      const whole: Omit<ReleaseWrite, 'operation'> = { ...write, ...first!, ...(also.length > 0 ? { also } : {}) };
      const done = await this.operations.submit<Released>('POST', `/books/${this.store.id()}/release`, whole);
      await this.store.reload();
      this.released.emit(done.people);
    } catch (error) {
      this.failure.set(messageOf(error));
      // What is another by now is shown, to be looked at.
      if (error instanceof ApiProblem && error.code === 'stale') {
        this.states.reload();
        this.preview.reload();
      }
    } finally {
      this.busy.set(false);
    }
  }
}
