import { Directive, inject, input, output } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { filter, merge } from 'rxjs';
import { OwnEvents } from '../../data/live/own-events';

/** Says when what a student's page shows of a book was released anew or withdrawn. */
@Directive({ selector: '[ltFollowOwn]', providers: [OwnEvents] })
export class FollowOwn {
  readonly book = input.required<string>({ alias: 'ltFollowOwn' });
  readonly changed = output();

  constructor() {
    const own = inject(OwnEvents);
    merge(own.resumed, own.events.pipe(filter((e) => e.book === this.book())))
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.changed.emit());
  }
}
