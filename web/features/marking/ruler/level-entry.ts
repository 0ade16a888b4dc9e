import { inject, Injectable } from '@angular/core';
import type { EntryContent } from '@core/book/change';
import { scoreChange } from '@core/rubric/score-change';
import { BookStore } from '../../../data/book';
import { afterPaint } from '../../../ui/timing/after-paint';
import { withMarks, type LevelDrafts } from '../../../data/work/level-drafts';
import { ApiProblem } from '../../../data/api';
import type { PendingLevels } from '../../../data/outbox/pending-writes';

/** One piece of work. */
export interface WorkPlace {
  student: string;
  item: string;
  work: string;
}

/** Gives levels with the score that follows: shown at once, kept by the outbox, one after the other. */
@Injectable({ providedIn: 'root' })
export class LevelEntry {
  private readonly store = inject(BookStore);
  /** Each is worked out on what the one before it made. */
  private turn: Promise<unknown> = Promise.resolve();

  /** What a cell holds, once all that was typed is in it. */
  async content({ student, item }: Pick<WorkPlace, 'student' | 'item'>): Promise<EntryContent> {
    await this.store.shown();
    return (await this.store.worker().explainItem(student, item, this.store.titles())).content ?? {};
  }

  /** False: something stands in the place of the sum, and it was not said which; nothing was given. */
  give(
    at: WorkPlace,
    drafts: LevelDrafts,
    marks: PendingLevels['marks'],
    sum: 'follow' | 'keep' | undefined,
    typed: string,
  ): Promise<boolean> {
    // It is seen first: what is worked out for it comes after.
    const given = Promise.all([this.turn, afterPaint()]).then(() => this.take(at, drafts, marks, sum, typed));
    this.turn = given.catch(() => undefined);
    return given;
  }

  private async take(
    at: WorkPlace,
    drafts: LevelDrafts,
    marks: PendingLevels['marks'],
    sum: 'follow' | 'keep' | undefined,
    typed: string,
  ): Promise<boolean> {
    const { student, item, work } = at;
    const rubric = drafts.rubric();
    if (!rubric) throw new ApiProblem('stale', 'the rubric was taken off meanwhile.');
    const points = this.store.assessments().get(item)?.points ?? 0;
    const look = async (): Promise<{ content: EntryContent; follows: ReturnType<typeof scoreChange> }> => {
      const content = await this.content(at);
      const before = drafts.marks(student, work);
      return {
        content,
        follows: scoreChange(rubric, { before, after: withMarks(before, marks) }, points, content, sum),
      };
    };
    let { content, follows } = await look();
    if (follows === 'ask') {
      // A colleague's level may be here as its score alone: then nothing is to be asked.
      await drafts.refresh(student).catch(() => undefined);
      ({ content, follows } = await look());
    }
    if (follows === 'ask') return false;
    const change = follows.change ?? { kind: 'put' as const, entry: content };
    const seen = this.store.versionAt(student, item);
    const levels = { work, rubric: drafts.version(), marks, ...(sum ? { sum } : {}) };
    // That it is not kept yet holds up nothing here: the outbox says so, and sends it.
    void this.store.changeLevels(levels, { student, item, change, typed, seen });
    await this.store.shown();
    return true;
  }
}
