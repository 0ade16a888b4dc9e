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
import type { SlipMark } from '@contract/slips';
import type { Submission } from '@contract/work/submissions';
import { comparePlaces } from '@core/marks/work-mark';
import { ownFileAddress, type SlipPlace } from '../../../data/work/slips';
import { FileView } from '../../../viewer/file-view';
import { FindBoard } from '../../../viewer/find/find-board';
import { MarkBoard } from '../../../viewer/marks/mark-board';
import { TextPage } from '../../../viewer/text-page';
import { Turns } from '../../../viewer/turns';
import type { WorkFile } from '../../../viewer/work-file';

/** A leaf of what was handed in, with what was marked on it. */
interface MarkedLeaf {
  id: string;
  label: string;
  /** Null: what was typed. */
  file: WorkFile | null;
  marks: SlipMark[];
}

/** The work as its student handed it in, with the marks on it in their places and their words beside. */
@Component({
  selector: 'lt-marked-work',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FileView, TextPage],
  providers: [FindBoard, MarkBoard],
  templateUrl: './marked-work.html',
  styleUrl: './marked-work.css',
})
export class MarkedWork {
  readonly place = input.required<SlipPlace>();
  readonly submission = input.required<Submission>();
  readonly marks = input.required<readonly SlipMark[]>();
  protected readonly board = inject(MarkBoard);
  private readonly turns = inject(Turns);
  private readonly area = viewChild.required<ElementRef<HTMLElement>>('area');
  protected readonly leaves = computed((): MarkedLeaf[] => {
    const { id, files, typed } = this.submission();
    const on = (leaf: string): SlipMark[] => this.marks().filter((m) => m.leaf === leaf);
    return [
      ...files.flatMap((f): MarkedLeaf[] => {
        if (f.sha256 === null) return [];
        const { name, bytes, mediaType, sha256 } = f;
        const address = ownFileAddress(this.place(), id, f.id);
        const file = { ...{ key: `${id}/${f.id}`, id: f.id, name, bytes, mediaType, sha256 }, address };
        return [{ id: f.id, label: name, file, marks: on(f.id) }];
      }),
      ...(typed.trim() === '' ? [] : [{ id: 'typed', label: 'typed', file: null, marks: on('typed') }]),
    ];
  });
  /** First a leaf with something on it. */
  protected readonly chosen = linkedSignal(
    () => (this.leaves().find((l) => l.marks.length > 0) ?? this.leaves()[0])?.id ?? '',
  );
  protected readonly leaf = computed(() => this.leaves().find((l) => l.id === this.chosen()) ?? null);
  /** As they follow each other on the work; those without words are seen there alone. */
  protected readonly said = computed(() =>
    (this.leaf()?.marks ?? [])
      .filter(({ mark }) => mark.kind !== 'text' && (mark.comment !== '' || mark.wording))
      .toSorted((a, b) => comparePlaces(a.mark, b.mark)),
  );
  protected readonly turn = computed(() => this.turns.of(this.leaf()?.file?.key ?? ''));
  protected readonly width = signal(600);

  constructor() {
    const watcher = new ResizeObserver(([entry]) =>
      this.width.set(Math.max(240, Math.floor(entry!.contentRect.width))),
    );
    queueMicrotask(() => watcher.observe(this.area().nativeElement));
    inject(DestroyRef).onDestroy(() => watcher.disconnect());
    // Synchronous with what is shown: a mark never lies on another leaf.
    effect(() => this.board.marks.set(this.leaf()?.marks ?? []));
    effect(() => {
      this.chosen();
      untracked(() => this.board.leave());
    });
    // What is chosen on the work has its words in sight, and the other way round.
    effect(() => {
      const id = this.board.chosen();
      if (id !== '') requestAnimationFrame(() => this.bringIntoSight(id));
    });
  }

  private bringIntoSight(id: string): void {
    for (const at of document.querySelectorAll(`lt-marked-work [data-said="${CSS.escape(id)}"]`))
      at.scrollIntoView({ block: 'nearest' });
    this.area()
      .nativeElement.querySelector(`[data-mark="${CSS.escape(id)}"]`)
      ?.scrollIntoView({ block: 'nearest' });
  }
}
