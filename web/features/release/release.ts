import { inDecimals } from '../../ui/text/locale';
import { counted } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { Counted, Form } from '../../ui/text/counted';
import { ROWS } from '../../ui/layout/rows';
import { Textarea } from 'primeng/textarea';
import { ActivatedRoute } from '@angular/router';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { Checkbox } from 'primeng/checkbox';
import { Dialog } from 'primeng/dialog';
import { noTicks, tickOf, type Tick, type TickCounts } from '@core/statistics/ticks';
import { Api, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { TickRail, ticksInWords } from '../../ui/chart/tick-rail';
import { day } from '../../ui/text/dates';
import { FLAG, STATES } from '../../worker/protocol';
import { cellView, type CellView } from '../../ui/text/cell-view';
import type { Released, ReleasePreview, ReleasePreviewWrite, ReleaseWrite, WithdrawWrite } from '@contract/statements';

interface Person {
  id: string;
  name: string;
  section: string;
  tick: Tick;
  out: 0 | 1 | 2;
  cell: CellView;
}

/** Release: who sees what of an assessment, before anybody does. */
@Component({
  selector: 'lt-release',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, Form, ROWS, Textarea, FormsModule, Button, Checkbox, Dialog, TickRail],
  templateUrl: './release.html',
  styleUrl: './release.css',
  host: { '(document:keydown)': 'key($event)' },
})
export class ReleasePage {
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  private readonly route = inject(ActivatedRoute);
  protected readonly chosen = signal<string | null>(this.route.snapshot.queryParamMap.get('assessment'));
  protected readonly picked = signal<ReadonlySet<string>>(new Set());
  protected readonly moveRules = signal(true);
  protected readonly asking = signal<'release' | 'withdraw' | null>(null);
  protected readonly busy = signal(false);
  protected readonly failure = signal('');
  protected readonly words = ticksInWords;

  protected readonly assessments = computed(() => {
    this.store.revision();
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return this.store.items().map((id, col) => {
      const a = this.store.assessments().get(id);
      return { id, title: a?.title ?? '', due: a?.due ? day(a.due, zone) : '', ticks: this.ticks(col) };
    });
  });
  protected readonly current = computed(() => this.assessments().find((a) => a.id === this.chosen()) ?? null);
  protected readonly people = computed((): Person[] => {
    this.store.revision();
    const col = this.store.items().indexOf(this.chosen() ?? '');
    const cells = this.store.cells();
    if (col < 0 || !cells) return [];
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return this.store.students().map((id, s) => {
      const at = this.store.at(s, col);
      const p = this.store.people().get(id);
      const out = outOf(cells.flags[at]!);
      return {
        id,
        name: p ? (p.given ? `${p.family}, ${p.given}` : p.family) : '',
        section: p?.section ? (this.store.sections().get(p.section) ?? '') : '',
        tick: tickOf(STATES[cells.state[at]!]!, out),
        out,
        cell: cellView(cells, at, { asMarked: false, trouble: null, unkept: false, day: (d) => day(d, zone) }),
      };
    });
  });
  protected readonly chosenPeople = computed(() => this.people().filter((p) => this.picked().has(p.id)));
  protected readonly withdrawable = computed(() => this.chosenPeople().filter((p) => p.out !== 0).length);
  protected readonly waiting = computed(
    () => this.chosenPeople().filter((p) => p.tick === 'toMark' || p.tick === 'nothing').length,
  );
  protected readonly all = computed(() => this.people().length > 0 && this.picked().size === this.people().length);

  /** Whose standing the release would change; null: not known yet. */
  protected readonly preview = signal<ReleasePreview | null>(null);
  protected readonly byRules = computed(() => this.preview()?.lines.filter((l) => l.byRules) ?? []);
  /** Why the rules are others, as the students read it. */
  protected readonly tell = signal('');
  private turn = 0;

  constructor() {
    effect(() => {
      const releasing = this.asking() === 'release';
      if (releasing && this.store.page()?.showsStanding) untracked(() => void this.look());
    });
    effect(() => {
      const list = this.assessments();
      const chosen = this.chosen();
      if (list.length === 0 || list.some((a) => a.id === chosen)) return;
      untracked(() => this.choose((list.find((a) => a.ticks.draft > 0) ?? list[0]!).id));
    });
    // Once the people are there, those with something unreleased are picked.
    let pickedFor = '';
    effect(() => {
      const people = this.people();
      const chosen = this.chosen() ?? '';
      if (people.length === 0 || pickedFor === chosen) return;
      pickedFor = chosen;
      untracked(() =>
        this.picked.set(
          new Set(people.filter((p) => p.tick === 'draft' || (p.tick === 'excused' && p.out !== 1)).map((p) => p.id)),
        ),
      );
    });
    effect(() => {
      const n = this.picked().size;
      const manage = this.store.mayManage();
      untracked(() => {
        this.statusBar.announce(
          manage
            ? `${n} picked. Nobody sees anything until you release it.`
            : 'Only the teachers of this book release.',
        );
        this.statusBar.keys.set(manage ? [{ key: 'Ctrl+Enter', label: 'release' }] : []);
      });
    });
  }

  /** Asks whose standing the release would change, once it is about to be made. */
  private async look(): Promise<void> {
    const turn = ++this.turn;
    this.preview.set(null);
    const write: ReleasePreviewWrite = {
      assessment: this.chosen()!,
      enrolments: [...this.picked()],
      moveRules: this.moveRules(),
    };
    try {
      const preview = await this.api.send<ReleasePreview>('POST', `/books/${this.store.id()}/release/preview`, write);
      if (turn !== this.turn) return;
      this.preview.set(preview);
      this.tell.set(preview.reasons.join('; '));
    } catch (error) {
      if (turn === this.turn) this.failure.set(messageOf(error));
    }
  }

  protected shown(s: ReleasePreview['lines'][number]['after']): string {
    return `${inDecimals(s.percent ?? 'none')}${s.letter === null ? '' : ` ${s.letter}`}`;
  }

  protected name(id: string): string {
    const p = this.store.people().get(id);
    return p ? (p.given ? `${p.family}, ${p.given}` : p.family) : '';
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
    this.chosen.set(id);
    this.failure.set('');
  }

  protected pick(id: string, on: boolean): void {
    this.picked.update((now) => {
      const next = new Set(now);
      if (on) next.add(id);
      else next.delete(id);
      return next;
    });
  }

  protected pickAll(on: boolean): void {
    this.picked.set(new Set(on ? this.people().map((p) => p.id) : []));
  }

  /** What a student sees of it at present. */
  protected sees(p: Person): string {
    return p.out === 0 ? 'nothing yet' : p.out === 1 ? 'this' : 'what it was before';
  }

  protected key(event: KeyboardEvent): void {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey) || !this.store.mayManage()) return;
    event.preventDefault();
    if (this.asking() === 'release') void this.release();
    else if (this.asking() === null && this.picked().size > 0) this.asking.set('release');
  }

  protected release(): Promise<void> {
    const write: Omit<ReleaseWrite, 'operation'> = {
      assessment: this.chosen()!,
      enrolments: [...this.picked()],
      moveRules: this.moveRules(),
      ...(this.byRules().length > 0 ? { tell: this.tell().trim() } : {}),
    };
    return this.send('/release', write, (n) => counted(n, 'student sees it now', 'students see it now'));
  }

  protected withdraw(): Promise<void> {
    const had = this.chosenPeople()
      .filter((p) => p.out !== 0)
      .map((p) => p.id);
    const write: Omit<WithdrawWrite, 'operation'> = { assessment: this.chosen()!, enrolments: had };
    return this.send('/withdraw', write, (n) =>
      counted(n, 'student does not see it any more', 'students do not see it any more'),
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
