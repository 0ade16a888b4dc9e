import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { groupsOf } from '@core/book/document';
import type { AssessmentLine } from '@core/import/new-assessment';
import { phaseOf, PHASES, type Phase } from '@core/statistics/phase';
import { noTicks, tickOf, type TickCounts } from '@core/statistics/ticks';
import type { AssessmentList } from '@contract/assessments';
import { Api, messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { outOf } from '../../data/columns';
import { StatusBar } from '../../ui/layout/status-bar';
import { AssessmentMaker } from '../../data/assessment-maker';
import { dayAndTime } from '../../ui/text/dates';
import { groupTitle } from '../../ui/text/group-title';
import { NewAssessmentLine } from '../../ui/form/new-assessment';
import { ticksInWords, TickRail } from '../../ui/chart/tick-rail';
import { STATES } from '../../worker/protocol';
import { ByCategory } from './by-category';

const WORDS: Record<Phase, { title: string; message: string }> = {
  planned: { title: 'Planned', message: 'no due day, and nothing has come' },
  open: { title: 'Open', message: 'not due yet' },
  due: { title: 'Due', message: 'past due, and not all is marked' },
  marked: { title: 'Marked', message: 'all is marked, not all is released' },
  released: { title: 'Released', message: 'students have it' },
};

interface Line {
  id: string;
  title: string;
  category: string;
  points: number;
  due: string;
  ticks: TickCounts;
  words: string;
  more: string;
}

/** All assessments of the book by phase, each with its class, and the line in which one more is made. */
@Component({
  selector: 'lt-assessments',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, TickRail, NewAssessmentLine, ByCategory],
  providers: [AssessmentMaker],
  templateUrl: './assessments.html',
  styleUrl: './assessments.css',
  host: { role: 'main', '(keydown)': 'key($event)' },
})
export class AssessmentsPage {
  protected readonly store = inject(BookStore);
  protected readonly maker = inject(AssessmentMaker);
  protected readonly context = computed(() => this.maker.context(null));
  private readonly statusBar = inject(StatusBar);
  private readonly api = inject(Api);
  private readonly line = viewChild(NewAssessmentLine);
  protected readonly byCategory = signal(false);
  /** Those put away, from the server: they stand in no sheet. */
  protected readonly away = signal<AssessmentList>([]);
  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  protected readonly phases = computed(() => {
    this.store.revision();
    const page = this.store.page();
    if (!page || !this.store.cells()) return [];
    const tree = this.store.rules()?.tree;
    const titles = new Map((tree ? groupsOf(tree) : []).map((g) => [g.id, groupTitle(g)]));
    const lines = new Map<Phase, Line[]>(PHASES.map((p) => [p, []]));
    this.store.items().forEach((id, item) => {
      const a = this.store.assessments().get(id);
      if (!a) return;
      const ticks = this.ticks(item);
      lines.get(phaseOf(ticks, a.due, page.asOf))!.push({
        id,
        title: a.title,
        category: titles.get(a.category) ?? a.category,
        points: a.points,
        due: a.due ? dayAndTime(a.due, page.timeZone) : '',
        ticks,
        words: ticksInWords(ticks),
        more: [a.extraCredit ? 'extra credit' : '', a.counts ? '' : 'only shown'].filter(Boolean).join(', '),
      });
    });
    return PHASES.map((phase) => ({ phase, ...WORDS[phase], lines: lines.get(phase)! })).filter(
      (p) => p.lines.length > 0,
    );
  });

  constructor() {
    const keys = [
      { key: '↑ ↓', label: 'from one to the next' },
      { key: 'Enter', label: 'open it' },
      { key: 'Alt ↑ ↓', label: 'move it, by category' },
    ];
    this.statusBar.keys.set([...keys, { key: '?', label: 'all keys' }]);
    this.statusBar.sheet.set([{ title: 'Assessments', keys }]);
    effect(() => {
      this.store.loaded();
      if (this.store.page()) untracked(() => void this.loadAway());
    });
  }

  private async loadAway(): Promise<void> {
    try {
      const all = await this.api.get<AssessmentList>(`/books/${this.store.id()}/assessments`);
      this.away.set(all.filter((a) => a.archived));
    } catch (error) {
      this.statusBar.announce(messageOf(error), 'trouble');
    }
  }

  private ticks(item: number): TickCounts {
    const cells = this.store.cells()!;
    const counts = noTicks();
    this.store.students().forEach((_, s) => {
      const at = this.store.at(s, item);
      counts[tickOf(STATES[cells.state[at]!]!, outOf(cells.flags[at]!))]++;
    });
    return counts;
  }

  protected async make(line: AssessmentLine): Promise<void> {
    if ((await this.maker.make(line)) === null) return;
    this.line()?.clear();
    this.statusBar.announce(`${line.title} is made.`);
  }

  /** Arrows go from assessment to assessment. */
  protected key(event: KeyboardEvent): void {
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by === 0 || (event.target as HTMLElement).closest('input')) return;
    const all = [...this.host.querySelectorAll<HTMLElement>('a.one')];
    all[Math.max(0, Math.min(all.length - 1, all.indexOf(document.activeElement as HTMLElement) + by))]?.focus();
    event.preventDefault();
  }
}
