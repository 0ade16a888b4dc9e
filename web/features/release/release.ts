import { counted } from '@core/words/count';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
  untracked,
  type WritableSignal,
} from '@angular/core';
import { Counted, Form } from '../../ui/text/counted';
import { ROWS } from '../../ui/layout/rows';
import { RouterLink } from '@angular/router';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { Checkbox } from 'primeng/checkbox';
import { messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { TickRail, ticksInWords } from '../../ui/chart/tick-rail';
import { dayAndTime } from '../../ui/text/dates';
import type { Released } from '@contract/statements';
import { isNews } from '../../release/before-release';
import { ReleaseList, type ReleaseRow } from './release-list';
import { PlannedList } from '../../release/planned-list';
import { ReleaseDialog } from '../../release/release-dialog';
import { WithdrawDialog } from '../../release/withdraw-dialog';

/** Whom a word picks; `bySlips`: by what stands beside the scores too, which comes later than the people. */
interface ToPick {
  bySlips: boolean;
  of: (p: ReleaseRow) => boolean;
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
  providers: [ReleaseList],
  templateUrl: './release.html',
  styleUrl: './release.css',
  host: { '(document:keydown)': 'key($event)' },
})
export class ReleasePage {
  protected readonly store = inject(BookStore);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  protected readonly list = inject(ReleaseList);
  protected readonly chosen = this.list.chosen;
  /** These are of the assessment that is chosen, and go with it. */
  protected readonly picked = this.ofChosen<ReadonlySet<string>>(() => new Set());
  protected readonly asking = this.ofChosen<'release' | 'withdraw' | null>(() => null);
  protected readonly failure = this.ofChosen(() => '');
  protected readonly busy = signal(false);

  protected readonly assessments = this.list.assessments;
  protected readonly current = this.list.current;
  protected readonly namesHidden = this.list.namesHidden;
  protected readonly people = this.list.people;
  protected readonly unread = this.list.unread;
  protected readonly visible = this.list.visible;
  protected readonly chosenPeople = computed(() => this.people().filter((p) => this.picked().has(p.id)));
  protected readonly withdrawable = computed(() => this.chosenPeople().filter((p) => this.isOut(p)).length);
  protected readonly waiting = computed(
    () => this.chosenPeople().filter((p) => p.tick === 'toMark' || p.tick === 'nothing').length,
  );
  protected readonly all = computed(() => this.people().length > 0 && this.picked().size === this.people().length);

  /** Whom to pick once it is known where everybody stands: first those with something unreleased. Null: they are picked. */
  protected readonly toPick = this.ofChosen<ToPick | null>(() => ({ bySlips: true, of: (p) => this.isNew(p) }));
  /** A release was asked for meanwhile. */
  private readonly asksOncePicked = this.ofChosen(() => false);
  protected readonly sections = computed(() => [...this.store.sections()].map(([id, title]) => ({ id, title })));
  /** Who of those picked has not opened what came back. */
  protected readonly unopened = computed(() => this.chosenPeople().filter((p) => p.slip?.releasedAt && !p.slip.opened));
  protected readonly pickedInOrder = computed(() => this.chosenPeople().map((p) => p.id));
  protected readonly columns = computed(() => [{ assessment: this.chosen()!, enrolments: this.pickedInOrder() }]);
  protected readonly words = ticksInWords;

  constructor() {
    effect(() => {
      const list = this.assessments();
      const chosen = this.chosen();
      if (list.length === 0 || list.some((a) => a.id === chosen)) return;
      untracked(() => this.choose((list.find((a) => a.ticks.draft > 0) ?? list[0]!).id));
    });
    effect(() => {
      const people = this.people();
      const those = this.toPick();
      if (people.length === 0 || those === null || (those.bySlips && this.list.isLoading())) return;
      untracked(() => {
        this.toPick.set(null);
        this.picked.set(new Set(people.filter(those.of).map((p) => p.id)));
        if (this.asksOncePicked() && this.picked().size > 0 && this.asking() === null) this.asking.set('release');
        this.asksOncePicked.set(false);
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

  private ofChosen<T>(begin: () => T): WritableSignal<T> {
    return linkedSignal({ source: this.chosen, computation: begin });
  }

  protected choose(id: string): void {
    this.asksOncePicked.set(false);
    this.chosen.set(id);
    this.failure.set('');
  }

  protected pick(id: string, on: boolean): void {
    this.toPick.set(null);
    this.asksOncePicked.set(false);
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
  private isNew(p: ReleaseRow): boolean {
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
    if (this.toPick() !== null) this.asksOncePicked.set(true);
    else if (this.picked().size > 0) this.asking.set('release');
  }

  /** It was done in the dialog. */
  protected released(people: number): void {
    this.asking.set(null);
    this.picked.set(new Set());
    this.list.askAgain();
    this.statusBar.announce(`${counted(people, 'student sees it now', 'students see it now')}.`);
  }

  protected planned(at: string | null): void {
    this.asking.set(null);
    this.picked.set(new Set());
    this.list.askAgain();
    this.statusBar.announce(
      at === null
        ? 'Planned: it is released when all are done.'
        : `Planned: it is released ${dayAndTime(at, this.store.page()?.timeZone ?? 'UTC')}.`,
    );
  }

  protected withdrawn(people: number): void {
    this.asking.set(null);
    this.picked.set(new Set());
    this.list.askAgain();
    this.statusBar.announce(
      `${counted(people, 'student does not see it any more', 'students do not see it any more')}.`,
    );
  }

  /** Something of it is seen by its student. */
  protected isOut(p: ReleaseRow): boolean {
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
      this.list.askAgain();
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
