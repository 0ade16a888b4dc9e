import { counted } from '@core/words/count';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { ROWS } from '../../ui/layout/rows';
import { Choice, optionsOf } from '../../ui/form/choice';
import { DayBox } from '../../ui/form/day-box';
import { InputText } from 'primeng/inputtext';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import { toSignal } from '@angular/core/rxjs-interop';
import type { JournalCell, JournalLines, JournalPage as Page, JournalSet } from '@contract/history';
import { Api, messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { day, inZone, longDay, schoolNow } from '../../ui/text/dates';
import { lineWords, type Names } from '../../ui/text/journal/journal-words';
import { setWords } from '../../ui/text/journal/set-words';
import { Between } from './between';
import { PutBack } from './put-back';
import { listName } from '../../ui/text/list-name';

/** What is asked of the journal, as it stands in the address. */
interface Asked {
  enrolment: string;
  assessment: string;
  person: string;
  kind: string;
  from: string;
  to: string;
  words: string;
}
const FIELDS = ['enrolment', 'assessment', 'person', 'kind', 'from', 'to', 'words'] as const;
const KINDS = [
  { value: '', text: 'every change' },
  { value: 'scores', text: 'scores and states' },
  { value: 'submissions', text: 'work handed in' },
  { value: 'letters', text: 'letters and questions' },
  { value: 'notes', text: 'staff notes' },
  { value: 'intake', text: 'what was brought in' },
  { value: 'releases', text: 'releases' },
  { value: 'rules', text: 'rules' },
  { value: 'assessments', text: 'assessments' },
  { value: 'people', text: 'people and groups' },
  { value: 'settings', text: 'settings' },
];

/** The journal of a book: every change, found, looked at and put back. */
@Component({
  selector: 'lt-journal',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ROWS, Choice, DayBox, InputText, PutBack, Between, RouterLink],
  templateUrl: './journal.html',
  styleUrl: './journal.css',
  host: { role: 'main', '(keydown)': 'key($event)', '(document:keydown.arrowDown)': 'begin($event)' },
})
export class JournalPage {
  protected readonly store = inject(BookStore);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  private readonly params = toSignal(this.route.queryParamMap, { requireSync: true });

  protected readonly KINDS = KINDS;
  protected readonly asked = computed(
    () => Object.fromEntries(FIELDS.map((f) => [f, this.params().get(f) ?? ''])) as unknown as Asked,
  );
  /** Two moments to be laid beside each other. */
  protected readonly between = computed(() => {
    const [from, to] = [this.params().get('then'), this.params().get('until')];
    return from === null ? null : { from, to: to ?? String(this.total()) };
  });
  protected readonly sets = signal<JournalSet[]>([]);
  private readonly notes = signal<Record<string, string>>({});
  protected readonly people = signal<Page['people']>([]);
  protected readonly total = signal(0);
  protected readonly before = signal<number | null>(null);
  protected readonly loading = signal(true);
  protected readonly problem = signal('');
  /** The set that is open, with all its lines once they are there. */
  protected readonly open = signal<string | null>(null);
  protected readonly lines = signal<JournalCell[]>([]);
  protected readonly puttingBack = signal<{ set: JournalSet; only: number[] | null } | null>(null);
  private turn = 0;
  private typing: ReturnType<typeof setTimeout> | undefined;

  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  protected readonly names = computed((): Names => {
    const notes = this.notes();
    return {
      zone: this.zone(),
      student: (id) => {
        const p = this.store.people().get(id);
        return p ? listName(p) : 'a student who left';
      },
      assessment: (id) => this.store.assessments().get(id)?.title ?? id,
      note: (id) => notes[id],
      section: (id) => this.store.sections().get(id),
    };
  });
  protected readonly byWhom = computed(() =>
    optionsOf(
      this.people().map((p) => ({ id: p.id, title: p.name })),
      'anybody',
    ),
  );
  protected readonly ofWhich = computed(() =>
    optionsOf(
      (this.store.page()?.students ?? []).map((s) => ({
        id: s.id,
        title: s.given ? `${s.family}, ${s.given}` : s.family,
      })),
      'any student',
    ),
  );
  protected readonly inWhich = computed(() => optionsOf(this.store.page()?.assessments ?? [], 'any assessment'));
  protected readonly filtered = computed(() => FIELDS.some((f) => this.asked()[f] !== ''));
  /** Sets under the day on which they were made. */
  protected readonly days = computed(() => {
    const days: { day: string; sets: JournalSet[] }[] = [];
    for (const set of this.sets()) {
      const name = longDay(set.at, this.zone());
      const last = days[days.length - 1];
      if (last?.day === name) last.sets.push(set);
      else days.push({ day: name, sets: [set] });
    }
    return days;
  });

  constructor() {
    const keys = [
      { key: '↑ ↓', label: 'from change to change' },
      { key: 'Enter', label: 'all its lines' },
      { key: 'Tab', label: 'put it back' },
    ];
    this.statusBar.keys.set([...keys, { key: '?', label: 'all keys' }]);
    this.statusBar.sheet.set([{ title: 'The journal', keys }]);
    effect(() => {
      this.asked();
      this.store.keeps();
      this.zone();
      untracked(() => void this.load());
    });
    const destroyed = inject(DestroyRef);
    destroyed.onDestroy(() => clearTimeout(this.typing));
    destroyed.onDestroy(this.statusBar.follow(() => this.params().toString()));
  }

  protected readonly near = computed(() => this.store.page()?.asOf ?? schoolNow());

  private query(before: number | null): string {
    const asked = this.asked();
    const q = new URLSearchParams();
    for (const f of FIELDS) {
      const value = f === 'from' || f === 'to' ? this.momentOf(f, asked[f]) : asked[f];
      if (value) q.set(f, value);
    }
    if (before !== null) q.set('before', String(before));
    return q.toString();
  }

  /** A day in the address as a moment: its beginning, or for "to" the beginning of the next. */
  private momentOf(field: 'from' | 'to', day: string): string {
    if (!/^\d{4}-\d\d-\d\d$/.test(day) || Number.isNaN(Date.parse(day))) return '';
    const [year, month, date] = day.split('-').map(Number);
    return new Date(inZone(year!, month!, date! + (field === 'from' ? 0 : 1), 0, 0, this.zone())).toISOString();
  }

  protected async load(more = false): Promise<void> {
    const turn = ++this.turn;
    this.loading.set(true);
    try {
      const book = this.store.id() || this.route.parent!.snapshot.paramMap.get('book')!;
      const page = await this.api.get<Page>(`/books/${book}/journal?${this.query(more ? this.before() : null)}`);
      if (turn !== this.turn) return;
      this.sets.set(more ? [...this.sets(), ...page.sets] : page.sets);
      this.notes.set(more ? { ...this.notes(), ...page.notes } : page.notes);
      this.people.set(page.people);
      this.total.set(page.total);
      this.before.set(page.before);
      this.problem.set('');
      const n = this.sets().length;
      this.statusBar.setIdle(
        `${counted(n, 'change')}${page.before === null ? '' : ' and more'}${this.filtered() ? ' found' : ''}, ${counted(page.total, 'line')} in all.`,
      );
    } catch (error) {
      if (turn === this.turn) this.problem.set(messageOf(error));
    } finally {
      if (turn === this.turn) this.loading.set(false);
    }
  }

  protected ask(field: keyof Asked, value: string): void {
    clearTimeout(this.typing);
    const go = (): void =>
      void this.router.navigate([], {
        queryParams: { [field]: value || null },
        queryParamsHandling: 'merge',
        replaceUrl: true,
      });
    if (field === 'words') this.typing = setTimeout(go, 250);
    else go();
  }

  protected askAll(): void {
    void this.router.navigate([], { queryParams: {} });
  }

  protected what(set: JournalSet): string {
    return setWords(set, this.names());
  }

  protected words(line: JournalCell): { was: string; becomes: string } {
    return lineWords(line, this.names());
  }

  protected where(line: JournalCell): string {
    const names = this.names();
    return [
      line.enrolment ? names.student(line.enrolment) : '',
      line.assessment ? names.assessment(line.assessment) : '',
    ]
      .filter(Boolean)
      .join(', ');
  }

  /** Every second band of three. */
  protected bars(i: number): boolean {
    return Math.floor(i / 3) % 2 === 1;
  }

  protected time(at: string): string {
    return new Date(at).toLocaleTimeString('en-GB', { timeZone: this.zone(), hour12: false });
  }

  protected dayOf(at: string): string {
    return day(at, this.zone());
  }

  /** The one line of a set that is a single change, where its words say all. */
  protected only(set: JournalSet): JournalCell | null {
    if (set.shown[0]?.hidden) return null;
    return set.lines === 1 && ['cell', 'note', 'settings', 'group'].includes(set.kind) ? set.shown[0]! : null;
  }

  protected async toggle(set: JournalSet): Promise<void> {
    if (this.open() === set.batch) return this.open.set(null);
    this.open.set(set.batch);
    this.lines.set(set.shown);
    if (set.lines <= set.shown.length) return;
    try {
      const all = await this.api.get<JournalLines>(`/books/${this.store.id()}/journal/${set.batch}`);
      if (this.open() !== set.batch) return;
      this.notes.update((n) => ({ ...n, ...all.notes }));
      this.lines.set(all.lines);
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  /** Arrows go from change to change. */
  protected key(event: KeyboardEvent): void {
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by === 0 || (event.target as HTMLElement).closest('select, input, [role=dialog]')) return;
    this.goFrom(document.activeElement?.closest('li')?.querySelector('.what') ?? null, by);
    event.preventDefault();
  }

  /** From nowhere in particular, the first of them. */
  protected begin(event: Event): void {
    if (document.activeElement !== document.body || event.defaultPrevented || this.puttingBack()) return;
    this.goFrom(null, 1);
    event.preventDefault();
  }

  private goFrom(now: Element | null, by: number): void {
    const all = [...this.host.querySelectorAll<HTMLElement>('.what')];
    const at = now === null ? -1 : all.indexOf(now as HTMLElement);
    all[Math.max(0, Math.min(all.length - 1, at + by))]?.focus();
  }

  protected async wasPutBack(message: string): Promise<void> {
    this.puttingBack.set(null);
    this.open.set(null);
    await Promise.all([this.store.reload(), this.load()]);
    this.statusBar.announce(message);
  }
}
