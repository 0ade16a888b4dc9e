/** Pages beyond those in sight that are drawn ahead. */
const MARGIN = '600px 0px';
/** Pages beside those in sight that are watched. */
const BESIDE = 4;

/** The page of a column, by its place, whose lower edge is the first below a height of the window; the last where none is. */
function pageAt(sheets: readonly HTMLElement[], height: number): number {
  let [low, high] = [0, sheets.length - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sheets[middle]!.getBoundingClientRect().bottom < height) low = middle + 1;
    else high = middle;
  }
  return low;
}

/**
 * Tells which pages of a column are in sight. The browser looks at everything that is watched in every frame that it
 * paints, while somebody types beside it too: of a long document only the pages round those in sight are watched.
 */
export class PagesInSight {
  private readonly watcher = new IntersectionObserver((entries) => this.take(entries), { rootMargin: MARGIN });
  private sheets: readonly HTMLElement[] = [];
  private readonly watched = new Set<number>();
  private readonly inSight = new Set<number>();

  /** `tell` hears of every change, with what is in sight by then, counted from 0. */
  constructor(
    private readonly column: HTMLElement,
    private readonly tell: (inSight: ReadonlySet<number>) => void,
  ) {}

  /** Begins anew with these pages, in their order. */
  watch(sheets: readonly HTMLElement[]): void {
    this.watcher.disconnect();
    this.watched.clear();
    this.sheets = sheets;
    for (const n of this.inSight) if (n >= sheets.length) this.inSight.delete(n);
    if (sheets.length === 0) return;
    this.watcher.observe(this.column);
    this.watchAround();
  }

  end(): void {
    this.watcher.disconnect();
  }

  /** Watches the pages round those in sight; where none is, round the one that is said. */
  private watchAround(guess = 0): void {
    const isAny = this.inSight.size > 0;
    const [first, last] = isAny ? [Math.min(...this.inSight), Math.max(...this.inSight)] : [guess, guess];
    const [from, to] = [Math.max(0, first - BESIDE), Math.min(this.sheets.length - 1, last + BESIDE)];
    for (const n of this.watched)
      if (n < from || n > to) {
        this.watcher.unobserve(this.sheets[n]!);
        this.watched.delete(n);
        this.inSight.delete(n);
      }
    for (let n = from; n <= to; n++)
      if (!this.watched.has(n)) {
        this.watched.add(n);
        this.watcher.observe(this.sheets[n]!);
      }
  }

  private take(entries: readonly IntersectionObserverEntry[]): void {
    const before = [...this.inSight].join();
    let column: IntersectionObserverEntry | undefined;
    const places = new Map([...this.watched].map((n) => [this.sheets[n] as Element, n]));
    for (const e of entries) {
      if (e.target === this.column) column = e;
      const n = places.get(e.target);
      if (n === undefined) continue;
      if (e.isIntersecting) this.inSight.add(n);
      else this.inSight.delete(n);
    }
    if (this.inSight.size > 0) this.watchAround();
    else if (column?.isIntersecting) {
      const { top, bottom } = column.intersectionRect;
      this.watchAround(pageAt(this.sheets, (top + bottom) / 2));
    } else if (before !== '') {
      // All that was in sight went at once, by a leap: the column says where one is now.
      this.watcher.unobserve(this.column);
      this.watcher.observe(this.column);
    }
    if (before !== [...this.inSight].join()) this.tell(new Set(this.inSight));
  }
}
