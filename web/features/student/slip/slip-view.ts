import { afterNextRender, ChangeDetectionStrategy, Component, computed, effect, inject, Injector, input, linkedSignal, output, resource, untracked } from '@angular/core'; // prettier-ignore
import { RouterLink } from '@angular/router';
import { Dialog } from 'primeng/dialog';
import type { StudentBook } from '@contract/statements';
import type { Slip, SlipWork } from '@contract/slips';
import { ordinal } from '@core/working/wording';
import { messageOf } from '../../../data/api';
import { News } from '../../../data/news';
import { retryFailed } from '../../../data/retry-failed';
import { slipPdfAddress, Slips, type SlipPlace } from '../../../data/work/slips';
import { dayAndTime } from '../../../ui/text/dates';
import { WorkingLines } from '../../../ui/text/working-lines';
import { MarkedWork } from './marked-work';
import { SlipFeedback } from './slip-feedback';
import { SlipRubric } from './slip-rubric';
import { pointsText, SumLine } from './sum-line';

/** One piece of work that something came back of, the latest first. */
interface CameBack {
  work: string;
  attempt: number;
  head: string;
  by: string;
  feedback: SlipWork | null;
  levels: boolean;
}

/** The slip of one assessment: its score as a sum, how it came about, rubric, feedback. */
@Component({
  selector: 'lt-slip-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Dialog, MarkedWork, RouterLink, SlipFeedback, SlipRubric, SumLine, WorkingLines],
  templateUrl: './slip-view.html',
  styleUrl: './slip-view.css',
})
export class SlipView {
  readonly page = input.required<StudentBook>();
  readonly work = input.required<StudentBook['work'][number]>();
  /** What stands for the score where there is none, in the student's words; '' there is one. */
  readonly state = input.required<string>();
  /** Its student looks at it. */
  readonly own = input(false);
  /** Staff look as this student; null: nobody does, or a made-up one. */
  readonly enrolment = input<string | null>(null);
  /** Its student has it before them. */
  readonly opened = output();
  private readonly slips = inject(Slips);
  private readonly news = inject(News);
  private readonly injector = inject(Injector);
  protected readonly place = computed((): SlipPlace => ({
    book: this.page().book,
    assessment: this.work().id,
    enrolment: this.own() ? null : this.enrolment(),
  }));
  /** Something came back beside or with the score, and it is read by somebody who may. */
  private readonly comes = computed(
    () => (this.own() || this.enrolment() !== null) && (this.work().feedback || this.work().score !== null),
  );
  protected readonly slip = resource({
    params: () => (this.comes() ? { ...this.place(), at: this.page().asOf } : undefined),
    loader: ({ params: { book, assessment, enrolment } }) => this.slips.read({ book, assessment, enrolment }),
  });
  /** What was read last stays while it is read anew; what is withdrawn is gone at once. */
  protected readonly read = linkedSignal<{ of: string; slip: Slip | null; comes: boolean }, Slip | null>({
    source: () => ({
      of: `${this.page().book} ${this.work().id}`,
      slip: this.slip.hasValue() ? (this.slip.value() ?? null) : null,
      comes: this.comes(),
    }),
    computation: (now, before) => {
      if (!now.comes || now.slip) return now.comes ? now.slip : null;
      return before?.source.of === now.of ? before.value : null;
    },
  });
  protected readonly problem = computed(() => (this.slip.error() ? messageOf(this.slip.error()) : ''));
  protected readonly pdf = computed(() => slipPdfAddress(this.place()));
  protected readonly points = pointsText;
  protected readonly unfolded = linkedSignal({ source: () => this.work().id, computation: () => false });
  protected readonly whole = linkedSignal({ source: () => this.work().id, computation: () => false });
  /** Of the working what took something. */
  protected readonly telling = computed(() => (this.work().score?.lines ?? []).filter((l) => l.tone === 'cost'));

  protected readonly came = computed((): CameBack[] => {
    const slip = this.read();
    if (!slip) return [];
    const said = new Map((slip.feedback?.works ?? []).map((w) => [w.work, w]));
    const given = new Map((slip.rubric?.works ?? []).map((w) => [w.work, w]));
    const works = [...new Set([...said.keys(), ...given.keys()])];
    return works
      .map((work): CameBack => {
        const [feedback, levels] = [said.get(work) ?? null, given.get(work)];
        const attempt = feedback?.attempt ?? levels!.attempt;
        const by = [...new Set([...(feedback?.by ?? []), ...(levels?.by ?? [])])];
        return { work, attempt, head: `${ordinal(attempt)} attempt`, by: by.join(', '), feedback, levels: levels !== undefined }; // prettier-ignore
      })
      .sort((a, b) => b.attempt - a.attempt);
  });
  /** What is shown first, and what came back of earlier attempts. */
  protected readonly first = computed(() => this.came()[0] ?? null);
  protected readonly earlier = computed(() => this.came().slice(1));
  protected readonly markersHidden = computed(() => {
    const slip = this.read();
    return slip?.rubric?.markersHidden === true || slip?.feedback?.markersHidden === true;
  });
  protected readonly everybody = computed(() => this.read()?.feedback?.everybody ?? []);

  /** The work whose marks are looked at, with what its student handed in. */
  protected readonly marked = linkedSignal<string, SlipWork | null>({
    source: () => this.work().id,
    computation: () => null,
  });
  protected readonly handedIn = resource({
    params: () => (this.marked() ? this.place() : undefined),
    loader: ({ params }) => this.slips.work(params),
  });
  protected readonly submission = computed(() =>
    this.handedIn.hasValue() ? (this.handedIn.value()?.find((s) => s.id === this.marked()?.work) ?? null) : null,
  );
  protected readonly markedProblem = computed(() => {
    if (this.handedIn.error()) return messageOf(this.handedIn.error());
    return this.handedIn.hasValue() && !this.submission() ? 'This work is not here any more.' : '';
  });

  constructor() {
    retryFailed(this.slip, this.handedIn);
    // What was read is not new any more; without a line it is noted the next time.
    effect(() => {
      const slip = this.read();
      if (slip?.fresh && this.own()) untracked(() => void this.open());
    });
  }

  private async open(): Promise<void> {
    this.opened.emit();
    await this.slips.trace(this.place(), { kind: 'opened' }).catch(() => undefined);
    // What was told of it counts as read.
    await this.news.load().catch(() => undefined);
  }

  protected at(moment: string): string {
    return dayAndTime(moment, this.page().timeZone);
  }

  /** Where the score came from and when: "second attempt, handed in 13 Nov 20:04 · released 24 Nov 20:44 by R. Aldous". */
  protected readonly line = computed(() => {
    const { score, due } = this.work();
    const slip = this.read();
    const sum = score?.sum ?? null;
    const came = score?.receivedAt ? `handed in ${this.at(score.receivedAt)}` : '';
    const attempt = sum && sum.attempts > 1 ? `${ordinal(sum.attempt)} attempt` : '';
    const out = score ? { at: score.releasedAt, by: score.releasedBy } : slip?.releasedAt ? { at: slip.releasedAt, by: slip.releasedBy } : null; // prettier-ignore
    const parts = [
      [attempt, came].filter(Boolean).join(', '),
      out ? `released ${this.at(out.at)}${out.by === '' ? '' : ` by ${out.by}`}` : '',
      due && !came ? `${due < this.page().asOf ? 'was due' : 'due'} ${this.at(due)}` : '',
    ];
    return parts.filter(Boolean).join(' · ');
  });

  /** The score of an attempt, where it alone makes what counts. */
  protected markedOf(attempt: number): string | null {
    const sum = this.work().score?.sum;
    return sum?.attempt === attempt ? sum.marked : null;
  }

  protected play(file: string): void {
    void this.slips.trace(this.place(), { kind: 'played', file }).catch(() => undefined);
  }

  /** On paper there is all of it: the working, earlier attempts. */
  protected print(): void {
    this.whole.set(true);
    this.unfolded.set(true);
    afterNextRender(() => window.print(), { injector: this.injector });
  }
}
