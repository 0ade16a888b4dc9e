import { counted } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, effect, inject, linkedSignal, resource, signal, untracked } from '@angular/core'; // prettier-ignore
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { debounceTime, filter, merge } from 'rxjs';
import { Counted, Form } from '../../ui/text/counted';
import { ROWS } from '../../ui/layout/rows';
import { ActivatedRoute, RouterLink } from '@angular/router';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { Checkbox } from 'primeng/checkbox';
import { noTicks, tickOf, type Tick, type TickCounts } from '@core/statistics/ticks';
import { messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { LiveStream } from '../../data/live-stream';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { TickRail, ticksInWords } from '../../ui/chart/tick-rail';
import { day, dayAndTime } from '../../ui/text/dates';
import { FLAG, STATES } from '../../worker/protocol';
import { cellView, type CellView } from '../../ui/text/cell-view';
import type { SlipState } from '@contract/slips';
import type { Released } from '@contract/statements';
import { MarkOutbox } from '../../data/work/mark-outbox';
import { NoteOutbox } from '../../data/work/note-outbox';
import { retryFailed } from '../../data/retry-failed';
import { Slips } from '../../data/work/slips';
import { isNews } from '../../release/before-release';
import { slipWords, visibleWords, type SlipWords } from './slip-words';
import { PlannedList } from '../../release/planned-list';
import { ReleaseDialog } from '../../release/release-dialog';
import { WithdrawDialog } from '../../release/withdraw-dialog';
import { listName } from '../../ui/text/list-name';

/** Milliseconds that news are gathered. */
const GATHERED = 400;

interface Person {
  id: string;
  name: string;
  section: string;
  tick: Tick;
  out: 0 | 1 | 2;
  slip: SlipState | null;
  words: SlipWords;
  cell: CellView;
}

/** Whom a word picks; `bySlips`: by what stands beside the scores too, which comes later than the people. */
interface ToPick {
  bySlips: boolean;
  of: (p: Person) => boolean;
}

/** Release: who sees what of an assessment, before anybody does. */
@Component({
  selector: 'lt-release',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Counted,
    Form,
    ROWS,
    FormsModule,
    Button,
    Checkbox,
    PlannedList,
    ReleaseDialog,
    RouterLink,
    TickRail,
    WithdrawDialog,
  ],
  templateUrl: './release.html',
  styleUrl: './release.css',
  host: { '(document:keydown)': 'key($event)' },
})
export class ReleasePage {
  protected readonly store = inject(BookStore);
  private readonly slips = inject(Slips);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  private readonly route = inject(ActivatedRoute);
  protected readonly chosen = signal<string | null>(this.route.snapshot.queryParamMap.get('assessment'));
  protected readonly picked = signal<ReadonlySet<string>>(new Set());
  protected readonly asking = signal<'release' | 'withdraw' | null>(null);
  protected readonly busy = signal(false);
  protected readonly failure = signal('');

  protected readonly assessments = computed(() => {
    this.store.revision();
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return this.store.items().map((id, col) => {
      const a = this.store.assessments().get(id);
      return { id, title: a?.title ?? '', due: a?.due ? day(a.due, zone) : '', ticks: this.ticks(col) };
    });
  });
  protected readonly current = computed(() => this.assessments().find((a) => a.id === this.chosen()) ?? null);
  protected readonly namesHidden = computed(() => this.store.assessments().get(this.chosen() ?? '')?.namesHidden === true); // prettier-ignore
  protected readonly people = computed((): Person[] => {
    this.store.revision();
    const col = this.store.items().indexOf(this.chosen() ?? '');
    const cells = this.store.cells();
    const known = this.known();
    if (col < 0 || !cells || this.namesHidden()) return [];
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return this.store.students().map((id, s) => {
      const at = this.store.at(s, col);
      const p = this.store.people().get(id);
      const out = outOf(cells.flags[at]!);
      return {
        id,
        name: p ? listName(p) : '',
        section: p?.section ? (this.store.sections().get(p.section) ?? '') : '',
        tick: tickOf(STATES[cells.state[at]!]!, out),
        out,
        slip: known.get(id) ?? null,
        words: slipWords(known.get(id) ?? null, out, zone),
        cell: cellView(cells, at, { asMarked: false, trouble: null, unkept: false, day: (d) => day(d, zone) }),
      };
    });
  });
  protected readonly chosenPeople = computed(() => this.people().filter((p) => this.picked().has(p.id)));
  protected readonly withdrawable = computed(() => this.chosenPeople().filter((p) => this.isOut(p)).length);
  protected readonly waiting = computed(
    () => this.chosenPeople().filter((p) => p.tick === 'toMark' || p.tick === 'nothing').length,
  );
  protected readonly all = computed(() => this.people().length > 0 && this.picked().size === this.people().length);

  /** Where everybody's slip stands; empty until it is known. */
  private readonly states = resource({
    params: () => {
      const [book, assessment] = [this.store.id(), this.chosen()];
      return book && assessment && this.store.page() && !this.namesHidden()
        ? { book, assessment, at: this.asked() }
        : undefined;
    },
    loader: ({ params }) => this.slips.states(params.book, params.assessment),
  });
  protected readonly unread = computed(() => (this.states.error() ? messageOf(this.states.error()) : ''));
  protected readonly asked = signal(0);
  /** Whom to pick once it is known where everybody stands: first those with something unreleased. Null: they are picked. */
  protected readonly toPick = linkedSignal<string | null, ToPick | null>({
    source: this.chosen,
    computation: () => ({ bySlips: true, of: (p) => this.isNew(p) }),
  });
  /** A release was asked for meanwhile. */
  private asksOncePicked = false;
  private readonly known = linkedSignal<ReadonlyMap<string, SlipState> | undefined, ReadonlyMap<string, SlipState>>({
    source: () =>
      this.states.hasValue() ? new Map(this.states.value()!.students.map((s) => [s.enrolment, s])) : undefined,
    computation: (now, before) => now ?? before?.value ?? new Map(),
  });
  protected readonly visible = computed(() => (this.known().size === 0 ? '' : visibleWords([...this.known().values()], this.store.page()?.timeZone ?? 'UTC'))); // prettier-ignore
  protected readonly sections = computed(() => [...this.store.sections()].map(([id, title]) => ({ id, title })));
  /** Who of those picked has not opened what came back. */
  protected readonly unopened = computed(() => this.chosenPeople().filter((p) => p.slip?.releasedAt && !p.slip.opened));
  protected readonly pickedInOrder = computed(() => this.chosenPeople().map((p) => p.id));
  protected readonly columns = computed(() => [{ assessment: this.chosen()!, enrolments: this.pickedInOrder() }]);
  protected readonly words = ticksInWords;

  constructor() {
    retryFailed(this.states);
    // What others write, give and mark meanwhile.
    const others = inject(LiveStream).events.pipe(
      filter((e) => ['feedback', 'marks', 'beside', 'slip'].includes(e.kind)),
    );
    // And what of one's own was kept late.
    merge(others, inject(NoteOutbox).merged, inject(MarkOutbox).kept)
      .pipe(debounceTime(GATHERED), takeUntilDestroyed())
      .subscribe(() => this.asked.update((n) => n + 1));
    effect(() => {
      const list = this.assessments();
      const chosen = this.chosen();
      if (list.length === 0 || list.some((a) => a.id === chosen)) return;
      untracked(() => this.choose((list.find((a) => a.ticks.draft > 0) ?? list[0]!).id));
    });
    effect(() => {
      const people = this.people();
      const those = this.toPick();
      if (people.length === 0 || those === null || (those.bySlips && this.states.isLoading())) return;
      untracked(() => {
        this.toPick.set(null);
        this.picked.set(new Set(people.filter(those.of).map((p) => p.id)));
        if (this.asksOncePicked && this.picked().size > 0 && this.asking() === null) this.asking.set('release');
        this.asksOncePicked = false;
      });
    });
    effect(() => {
      const n = this.picked().size;
      const manage = this.store.mayManage();
      untracked(() => {
        this.statusBar.setIdle(
          manage
            ? `${n} picked. Nobody sees anything until you release it.`
            : 'Only the teachers of this book release.',
          false,
        );
        this.statusBar.keys.set(manage ? [{ key: 'Ctrl+Enter', label: 'release' }] : []);
      });
    });
  }

  private ticks(col: number): TickCounts {
    const counts = noTicks();
    const cells = this.store.cells();
    if (!cells) return counts;
    this.store.students().forEach((_, s) => {
      const at = this.store.at(s, col);
      counts[tickOf(STATES[cells.state[at]!]!, outOf(cells.flags[at]!))]++;
    });
    return counts;
  }

  protected choose(id: string): void {
    if (id !== this.chosen()) this.picked.set(new Set());
    this.asksOncePicked = false;
    this.chosen.set(id);
    this.failure.set('');
  }

  protected pick(id: string, on: boolean): void {
    this.toPick.set(null);
    this.asksOncePicked = false;
    this.picked.update((now) => {
      const next = new Set(now);
      if (on) next.add(id);
      else next.delete(id);
      return next;
    });
  }

  protected pickAll(on: boolean): void {
    this.toPick.set({ bySlips: false, of: () => on });
  }

  /** Students do not see all of it as it is. */
  private isNew(p: Person): boolean {
    const score = p.tick === 'draft' || (p.tick === 'excused' && p.out !== 1);
    return score || p.out === 2 || (p.slip !== null && isNews(p.slip, ['rubric', 'feedback']));
  }

  /** Picks those with something that students do not see as it is; `finished`: and nothing that looks unfinished. */
  protected pickNews(finished: boolean): void {
    this.toPick.set({ bySlips: true, of: (p) => this.isNew(p) && (!finished || p.slip?.unfinished.length === 0) });
  }

  /** Picks those of a section, and nobody else. */
  protected pickSection(title: string): void {
    this.toPick.set({ bySlips: false, of: (p) => p.section === title });
  }

  protected key(event: KeyboardEvent): void {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey) || !this.store.mayManage()) return;
    event.preventDefault();
    if (this.asking() !== null) return;
    // Asked before it is known whom a word means: as soon as it is.
    if (this.toPick() !== null) this.asksOncePicked = true;
    else if (this.picked().size > 0) this.asking.set('release');
  }

  /** It was done in the dialog. */
  protected released(people: number): void {
    this.asking.set(null);
    this.picked.set(new Set());
    this.asked.update((n) => n + 1);
    this.statusBar.announce(`${counted(people, 'student sees it now', 'students see it now')}.`);
  }

  protected planned(at: string | null): void {
    this.asking.set(null);
    this.picked.set(new Set());
    this.asked.update((n) => n + 1);
    this.statusBar.announce(
      at === null
        ? 'Planned: it is released when all are done.'
        : `Planned: it is released ${dayAndTime(at, this.store.page()?.timeZone ?? 'UTC')}.`,
    );
  }

  protected withdrawn(people: number): void {
    this.asking.set(null);
    this.picked.set(new Set());
    this.asked.update((n) => n + 1);
    this.statusBar.announce(
      `${counted(people, 'student does not see it any more', 'students do not see it any more')}.`,
    );
  }

  /** Something of it is seen by its student. */
  protected isOut(p: Person): boolean {
    return p.out !== 0 || p.slip?.releasedAt != null;
  }

  /** Those who have not opened it are told once more. */
  protected tellAgain(): Promise<void> {
    const enrolments = this.unopened().map((p) => p.id);
    return this.send(`/assessments/${this.chosen()!}/tell-again`, { enrolments }, (n) =>
      counted(n, 'student is told again', 'students are told again'),
    );
  }

  private async send(path: string, body: object, message: (people: number) => string): Promise<void> {
    if (this.busy()) return;
    this.busy.set(true);
    this.failure.set('');
    try {
      const done = await this.operations.submit<Released>('POST', `/books/${this.store.id()}${path}`, body);
      this.asking.set(null);
      this.picked.set(new Set());
      await this.store.reload();
      this.asked.update((n) => n + 1);
      this.statusBar.announce(`${message(done.people)}.`);
    } catch (error) {
      this.failure.set(messageOf(error));
      this.asking.set(null);
    } finally {
      this.busy.set(false);
    }
  }

  protected async showStanding(shows: boolean): Promise<void> {
    this.failure.set('');
    try {
      await this.operations.submit('PATCH', `/books/${this.store.id()}`, { showsStanding: shows });
    } catch (error) {
      this.failure.set(messageOf(error));
    }
    await this.store.reload();
  }
}

const outOf = (flags: number): 0 | 1 | 2 => (flags & FLAG.released ? 1 : flags & FLAG.changed ? 2 : 0);
