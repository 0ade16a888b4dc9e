import { computed, DestroyRef, inject, Injectable, signal } from '@angular/core';
import { rangeOf, textMap } from '../marks/text-map';
import { foldText, matchesIn, type FoldedText } from './match-text';

/** Pages whose text is there before they are drawn. */
export interface PageTexts {
  count: number;
  textOf(page: number): Promise<string>;
  /** Brings a page into sight and gives it once its text is drawn; null: it was left before. */
  show(page: number): Promise<HTMLElement | null>;
}

/** One place where the words stand: the page, and the how-manieth there. */
interface Place {
  page: number;
  nth: number;
}

const ALL = 'found';
const NOW = 'found-now';
/** Milliseconds until what is typed is looked for. */
const TYPED = 150;

/** Words that are looked for in one leaf of work. For one viewer. */
@Injectable()
export class FindBoard {
  /** Of a leaf with pages, which are drawn only as they come in sight. */
  readonly pages = signal<PageTexts | null>(null);
  /** What scrolls. */
  readonly root = signal<HTMLElement | null>(null);
  readonly wanted = signal('');
  private readonly places = signal<readonly Place[]>([]);
  private readonly at = signal(-1);
  readonly looking = signal(false);
  readonly words = computed(() => {
    if (this.wanted().trim() === '') return '';
    if (this.places().length > 0) return `${this.at() + 1} of ${this.places().length}`;
    return this.looking() ? 'looking …' : 'not found';
  });
  private readonly texts = new Map<number, FoldedText>();
  private textsOf: PageTexts | null = null;
  private turn = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.leave());
  }

  /** Looks for other words, from the beginning. */
  look(wanted: string): void {
    this.wanted.set(wanted);
    this.turn++;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.lookThrough(), TYPED);
  }

  leave(): void {
    this.turn++;
    clearTimeout(this.timer);
    this.wanted.set('');
    this.places.set([]);
    this.at.set(-1);
    CSS.highlights?.delete(ALL);
    CSS.highlights?.delete(NOW);
  }

  private async lookThrough(): Promise<void> {
    const turn = this.turn;
    const [pages, wanted] = [this.pages(), this.wanted()];
    this.places.set([]);
    this.at.set(-1);
    CSS.highlights?.delete(NOW);
    this.paint();
    if (wanted.trim() === '') return;
    if (this.textsOf !== pages) this.texts.clear();
    this.textsOf = pages;
    this.looking.set(true);
    try {
      if (!pages) {
        const n = this.rangesIn(this.root(), wanted).length;
        this.places.set(Array.from({ length: n }, (_, nth) => ({ page: 0, nth })));
        return this.step(1);
      }
      for (let page = 1; page <= pages.count; page++) {
        const text = this.texts.get(page) ?? foldText(await pages.textOf(page));
        this.texts.set(page, text);
        if (turn !== this.turn) return;
        const found = matchesIn(text, wanted).map((_, nth) => ({ page, nth }));
        if (found.length === 0) continue;
        const first = this.places().length === 0;
        this.places.update((all) => [...all, ...found]);
        if (first) this.step(1);
      }
    } finally {
      if (turn === this.turn) this.looking.set(false);
    }
  }

  /** To the next place, or the one before; around at the ends. */
  step(by: 1 | -1): void {
    const n = this.places().length;
    if (n === 0) return;
    this.at.update((at) => (at + by + n) % n);
    void this.show();
  }

  private async show(): Promise<void> {
    const [turn, at] = [this.turn, this.at()];
    const place = this.places()[at];
    if (!place) return;
    const root = this.pages() ? await this.pages()!.show(place.page) : this.root();
    if (turn !== this.turn || at !== this.at() || !root) return;
    const range = this.rangesIn(root, this.wanted())[place.nth];
    this.paint();
    CSS.highlights?.delete(NOW);
    if (!range) return;
    CSS.highlights?.set(NOW, new Highlight(range));
    const within = this.root()!;
    const [box, seen] = [range.getBoundingClientRect(), within.getBoundingClientRect()];
    if (box.top < seen.top + 20 || box.bottom > seen.bottom - 20)
      within.scrollBy({ top: box.top - seen.top - seen.height / 3 });
  }

  /** All places of what is drawn; to be called where more of it is. */
  paint(): void {
    const ranges = this.rangesIn(this.root(), this.wanted());
    if (ranges.length > 0) CSS.highlights?.set(ALL, new Highlight(...ranges));
    else CSS.highlights?.delete(ALL);
  }

  private rangesIn(root: HTMLElement | null, wanted: string): Range[] {
    if (!root || wanted.trim() === '') return [];
    const map = textMap(root);
    return matchesIn(foldText(map.text), wanted).flatMap(({ start, end }) => rangeOf(map, start, end) ?? []);
  }
}
