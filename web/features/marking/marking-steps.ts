import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import { ArrivalList } from '../../data/work/arrival-list';
import { BookStore } from '../../data/book';
import { bookFor } from '../../data/veil';
import { StatusBar } from '../../ui/layout/status-bar';
import { MarkingList } from './list/marking-list';
import { firstWaiting } from './list/marking-order';

/** From student to student, and on to the next assessment. For one page. */
@Injectable()
export class MarkingSteps {
  private readonly store = inject(BookStore);
  private readonly list = inject(ArrivalList);
  private readonly people = inject(MarkingList);
  private readonly router = inject(Router);
  private readonly statusBar = inject(StatusBar);

  /** Straight into the first work that waits. */
  begin(): void {
    const first = this.people.first();
    if (first) this.goTo(first.enrolment);
  }

  goTo(enrolment: string): void {
    if (enrolment === this.people.chosen()) return;
    this.people.chosen.set(enrolment);
    // The address follows, without a step back in the browser for every student.
    void this.router.navigate([], { queryParams: { student: enrolment }, replaceUrl: true });
  }

  /** The next of those that are gone through; after the last of them everybody is there again. */
  private nextOfWalk(): void {
    const to = this.people.nextOfWalk();
    if (to) return this.goTo(to.enrolment);
    if (this.people.shown().length === 0) return;
    this.statusBar.announce('That was the last of them: everybody is listed again.');
    this.people.endWalk();
  }

  next(): void {
    if (this.people.walk()) return this.nextOfWalk();
    const next = this.people.next();
    if (next) return this.goTo(next.enrolment);
    if (this.people.current()?.kind === 'to mark')
      return this.statusBar.announce('Nobody else waits to be marked here.');
    if (this.store.veiled() !== '') return this.statusBar.announce('Nothing waits to be marked here any more.');
    // Done with this one: on to the assessment that was due first of those with work that waits.
    const others = (this.store.page()?.assessments ?? []).filter((a) => a.id !== this.list.assessment());
    const other = firstWaiting(others, this.people.waitingBy());
    if (!other) return this.statusBar.announce('Nothing waits to be marked in this book any more.');
    this.statusBar.announce(`${this.list.item()?.title ?? ''} is done. On to ${other.title}.`);
    this.open(other.id);
  }

  /** Another assessment of the book, at its first work that waits. */
  open(assessment: string): void {
    if (assessment !== this.list.assessment())
      void this.router.navigate(['/book', bookFor(this.store.id(), this.store.assessments().get(assessment)), 'marking', assessment]); // prettier-ignore
  }

  step(by: 1 | -1): void {
    const to = this.people.beside(by);
    if (to) this.goTo(to.enrolment);
  }
}
