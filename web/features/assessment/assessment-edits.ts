import { Injectable, signal } from '@angular/core';
import type { Item } from '@core/book/document';
import { areNamesHidden, forgetShownNames } from '@core/work/hidden-names';
import type { AssessmentWhole } from '@contract/assessments';
import { amountIn } from '../../ui/text/amount';
import type { DateSaid } from './date-sentences';
import { countingAs, howCounts, withMore, withSectionDate, type Draft } from './draft';

/** What is being changed of the assessment that the page shows, part by part. For one page. */
@Injectable()
export class AssessmentEdits {
  /** As it is kept. */
  readonly was = signal<AssessmentWhole | null>(null);
  readonly draft = signal<Draft | null>(null);
  /** Why it could not be kept; what is changed after that may mend it. */
  readonly failure = signal('');
  /** Boxes in which what is typed is no day. */
  readonly badDays = signal<ReadonlySet<string>>(new Set());

  set(part: Partial<Draft>): void {
    this.draft.update((d) => d && { ...d, ...part });
    this.failure.set('');
  }

  hideMarkers(hidden: boolean): void {
    const { markersHidden: _was, ...work } = this.draft()!.work;
    this.set({ work: hidden ? { ...work, markersHidden: true } : work });
  }

  readonly namesHidden = areNamesHidden;

  /** Whether the staff read whose work is whose. */
  hideNames(hidden: boolean): void {
    const { namesHidden: _was, ...work } = forgetShownNames(this.draft()!.work);
    this.set({ work: hidden ? { ...work, namesHidden: true } : work });
  }

  /** `where`: here, or what the work is in place of that. */
  setWhere(where: string): void {
    const { elsewhere: _was, ...rest } = this.draft()!.work;
    const { namesHidden: _hidden, ...named } = forgetShownNames(rest);
    // What is kept without names stays so until they are shown; what was only begun so is forgotten with the choice.
    const work = where === 'here' || areNamesHidden(this.was()?.work ?? {}) ? rest : named;
    if (where === 'here' || where === 'room') this.set({ takesWork: where === 'here', work });
    else this.set({ takesWork: false, work: { ...work, elsewhere: where as 'tool' | 'nothing' } });
  }

  setMore<K extends keyof Item>(key: K, value: Item[K] | undefined): void {
    this.draft.update((d) => d && { ...d, more: withMore(d.more, key, value) });
    this.failure.set('');
  }

  number(text: string): number {
    return amountIn(text) ?? NaN;
  }

  private markDay(box: string, bad: boolean): void {
    this.badDays.update((all) => new Set([...all].filter((b) => b !== box).concat(bad ? [box] : [])));
  }

  day({ section, part, at }: DateSaid): void {
    this.markDay(section === null ? part : `${section} ${part}`, at === undefined);
    if (at === undefined) return;
    if (section === null) this.set({ [part]: at });
    else this.setMore('sectionDates', withSectionDate(this.draft()!.more, section, part, at));
  }

  counts(how: string): void {
    this.draft.update((d) => d && { ...d, more: countingAs(d.more, how) });
  }

  readonly howCounts = (d: Draft): string => howCounts(d.more);
}
