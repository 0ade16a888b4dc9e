import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  type ElementRef,
  inject,
  input,
  linkedSignal,
  signal,
  viewChild,
} from '@angular/core';
import type { Submission } from '@contract/submissions';
import { FileView } from '../../viewer/file-view';
import { TextPage } from '../../viewer/text-page';
import { Turns } from '../../viewer/turns';
import { shownAs, workFile, type WorkFile } from '../../viewer/work-file';

/** One leaf of what was handed in: a file, what was typed, or a link. */
type Leaf =
  | { key: string; label: string; kind: 'file'; file: WorkFile; odd: string | null }
  | { key: string; label: string; kind: 'text'; text: string }
  | { key: string; label: string; kind: 'link'; address: string };

const LEAST_ZOOM = 0.25;
const MOST_ZOOM = 5;
const STEP = 1.2;
/** Pixels between the work and the edge of its place. */
const EDGE = 32;

/** The leaves of a submission, as its student handed them in; files that are not all here are none. */
export function leavesOf(book: string, s: Submission): Leaf[] {
  return [
    ...s.files.flatMap((f): Leaf[] =>
      f.sha256 === null
        ? []
        : [
            {
              ...{ key: `${s.id}/${f.id}`, label: f.name, kind: 'file', odd: f.odd },
              file: workFile(book, s.id, f),
            },
          ],
    ),
    ...(s.typed.trim() === '' ? [] : [{ key: `${s.id} text`, label: 'typed', kind: 'text' as const, text: s.typed }]),
    ...(s.link.trim() === '' ? [] : [{ key: `${s.id} link`, label: 'link', kind: 'link' as const, address: s.link }]),
  ];
}

/** What one student handed in, leaf by leaf: shown, turned, larger and smaller. For one submission. */
@Component({
  selector: 'lt-work-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FileView, TextPage],
  templateUrl: './work-view.html',
  styleUrl: './work-view.css',
})
export class WorkView {
  readonly book = input.required<string>();
  readonly submission = input.required<Submission>();
  private readonly turns = inject(Turns);
  private readonly place = viewChild.required<ElementRef<HTMLElement>>('place');
  protected readonly leaves = computed(() => leavesOf(this.book(), this.submission()));
  protected readonly chosen = linkedSignal(() => this.leaves()[0]?.key ?? '');
  protected readonly leaf = computed(() => this.leaves().find((l) => l.key === this.chosen()) ?? null);
  protected readonly zoom = signal(1);
  private readonly room = signal(720);
  protected readonly width = computed(() => Math.max(240, this.room() - (this.room() < 500 ? 0 : 2 * EDGE)));
  protected readonly pages = linkedSignal({ source: this.chosen, computation: () => 0 });
  protected readonly page = linkedSignal({ source: this.chosen, computation: () => 1 });
  protected readonly turn = computed(() => this.turns.of(this.chosen()));
  /** Can be shown larger and turned: pages and pictures, a text larger alone. */
  protected readonly looks = computed(() => {
    const leaf = this.leaf();
    if (leaf?.kind === 'text') return { sized: true, turned: false };
    const kind = leaf?.kind === 'file' ? shownAs(leaf.file) : null;
    const paged = kind === 'pdf' || kind === 'picture' || kind === 'heic';
    return { sized: paged || (typeof kind === 'string' && kind !== 'sound' && kind !== 'film'), turned: paged };
  });
  protected readonly percent = computed(() => `${Math.round(this.zoom() * 100)} %`);
  /** Only addresses of the web are opened, each in a window that knows nothing of this one. */
  protected readonly opens = computed(() => {
    const leaf = this.leaf();
    return leaf?.kind === 'link' && /^https?:\/\//i.test(leaf.address.trim()) ? leaf.address.trim() : null;
  });

  constructor() {
    const watcher = new ResizeObserver(([entry]) => this.room.set(Math.floor(entry!.contentRect.width)));
    queueMicrotask(() => watcher.observe(this.place().nativeElement));
    inject(DestroyRef).onDestroy(() => watcher.disconnect());
  }

  protected scrolled(): void {
    const top = this.place().nativeElement.getBoundingClientRect().top + 160;
    const sheets = [...this.place().nativeElement.querySelectorAll('[data-page]')];
    if (sheets.length > 0)
      this.page.set(Math.max(1, sheets.filter((s) => s.getBoundingClientRect().top <= top).length));
  }

  larger(): void {
    this.zoom.update((z) => Math.min(MOST_ZOOM, z * STEP));
  }

  smaller(): void {
    this.zoom.update((z) => Math.max(LEAST_ZOOM, z / STEP));
  }

  fit(): void {
    this.zoom.set(1);
  }

  turnIt(): void {
    if (this.looks().turned) this.turns.turn(this.chosen());
  }

  /** Goes to the leaf after this one, from the first again at the end. */
  nextLeaf(): void {
    const leaves = this.leaves();
    const at = leaves.findIndex((l) => l.key === this.chosen());
    this.chosen.set(leaves[(at + 1) % Math.max(1, leaves.length)]?.key ?? '');
  }
}
