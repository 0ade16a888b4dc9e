import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { BookPage } from '@contract/books';
import { DayBox } from '../../ui/form/day-box';
import type { Draft } from './draft';

/** A day that was said in a box: of all, or of one section; undefined where what stands there is no day. */
export interface DateSaid {
  section: string | null;
  part: 'due' | 'closes';
  at: string | null | undefined;
}

/** Until when work is due and taken in, for everybody and for each section, as sentences. */
@Component({
  selector: 'lt-date-sentences',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayBox],
  styleUrl: './sentences.css',
  template: `
    <p>
      Due
      <lt-day-box
        label="Due"
        placeholder="no due day"
        [zone]="zone()"
        [near]="near()"
        [now]="now()"
        [value]="draft().due"
        [disabled]="disabled()"
        (said)="said.emit({ section: null, part: 'due', at: $event })"
      />, no more after
      <lt-day-box
        label="No more after"
        placeholder="any time"
        [zone]="zone()"
        [near]="near()"
        [now]="now()"
        [value]="draft().closes"
        [disabled]="disabled()"
        (said)="said.emit({ section: null, part: 'closes', at: $event })"
      />.
    </p>
    @for (s of sections(); track s.id) {
      <p class="section">
        {{ s.title }}: due
        <lt-day-box
          [label]="'Due in ' + s.title"
          placeholder="as the others"
          [zone]="zone()"
          [near]="near()"
          [now]="now()"
          [value]="draft().more.sectionDates?.[s.id]?.due ?? null"
          [disabled]="disabled()"
          (said)="said.emit({ section: s.id, part: 'due', at: $event })"
        />, no more after
        <lt-day-box
          [label]="'No more after, in ' + s.title"
          placeholder="as the others"
          [zone]="zone()"
          [near]="near()"
          [now]="now()"
          [value]="draft().more.sectionDates?.[s.id]?.closes ?? null"
          [disabled]="disabled()"
          (said)="said.emit({ section: s.id, part: 'closes', at: $event })"
        />.
      </p>
    }
  `,
})
export class DateSentences {
  readonly draft = input.required<Draft>();
  readonly sections = input.required<BookPage['sections']>();
  readonly zone = input.required<string>();
  readonly near = input.required<string>();
  readonly now = input.required<string>();
  readonly disabled = input(false);
  readonly said = output<DateSaid>();
}
