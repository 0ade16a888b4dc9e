import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { MOST_SECONDS } from '@contract/work/feedback';
import { messageOf } from '../../../data/api';
import { FeedbackAttachments } from '../../../data/work/feedback-attachments';
import { Recordings } from '../../../data/work/recordings';
import { lengthWords } from '../../../viewer/recording/player';
import { Recorder } from './recorder';

/** A recording while it is made: how long, how loud, what the camera sees. It begins at once, and ends where it is left. */
@Component({
  selector: 'lt-recording-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (problem()) {
      <p class="problem" role="alert">
        {{ problem() }} <button type="button" class="word" (click)="left.emit()">go on without</button>
      </p>
    } @else {
      @if (recorder()?.picture()) {
        <video #seen muted autoplay playsinline aria-label="What the camera sees"></video>
      }
      <p class="line">
        <span class="dot" [class.rests]="rests()" aria-hidden="true"></span>
        <span class="mono" role="timer" aria-label="Length of the recording">{{ lengthWords(seconds()) }}</span>
        <span
          class="loud"
          role="img"
          [attr.aria-label]="rests() ? 'It rests' : level() > 2 ? 'Something is heard' : 'Nothing is heard'"
          ><i [style.width.%]="level()"></i
        ></span>
        @if (going()) {
          <button type="button" class="word" (click)="recorder()!.rest(!rests())">
            {{ rests() ? 'go on' : 'pause' }}
          </button>
          <button type="button" class="word" (click)="keep()">keep it</button>
          <button type="button" class="word" (click)="drop()">throw away</button>
        } @else {
          <span class="quiet" role="status">begins …</span>
        }
      </p>
      @if (seconds() > MOST_SECONDS - 60) {
        <p class="quiet" role="status">A recording has 10 minutes at most.</p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
    }
    p {
      margin: 0;
    }
    .line {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 12px;
      align-items: center;
    }
    video {
      width: 100%;
      max-height: 150px;
      background: #000;
      border-radius: var(--radius);
      transform: scaleX(-1);
    }
    .dot {
      width: 10px;
      height: 10px;
      border-radius: 50%;
      background: var(--red);
    }
    .dot.rests {
      background: none;
      box-shadow: inset 0 0 0 2px var(--red);
    }
    .loud {
      flex: 1;
      min-width: 40px;
      height: 6px;
      background: var(--rule);
      border-radius: 3px;
      overflow: hidden;
    }
    .loud i {
      display: block;
      height: 100%;
      background: var(--teal);
    }
  `,
})
export class RecordingStrip {
  readonly purpose = input.required<'voice' | 'camera'>();
  /** Nothing is recorded any more. */
  readonly left = output();
  private readonly files = inject(FeedbackAttachments);
  private readonly recordings = inject(Recordings);
  private readonly seen = viewChild<ElementRef<HTMLVideoElement>>('seen');
  protected readonly lengthWords = lengthWords;
  protected readonly MOST_SECONDS = MOST_SECONDS;
  protected readonly recorder = signal<Recorder | null>(null);
  protected readonly going = signal(false);
  protected readonly problem = signal('');
  private id = '';
  private over = false;
  protected readonly seconds = (): number => this.recorder()?.seconds() ?? 0;
  protected readonly rests = (): boolean => this.recorder()?.resting() ?? false;
  protected readonly level = (): number => this.recorder()?.level() ?? 0;

  constructor() {
    const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    afterNextRender(() => {
      host.scrollIntoView({ block: 'nearest' });
      void this.begin();
    });
    effect(() => {
      this.going();
      this.recorder()?.picture();
      requestAnimationFrame(() => host.scrollIntoView({ block: 'nearest' }));
    });
    effect(() => {
      const [video, picture] = [this.seen()?.nativeElement, this.recorder()?.picture()];
      if (video && picture && video.srcObject !== picture) video.srcObject = picture;
    });
    // Nothing is lost by walking on.
    inject(DestroyRef).onDestroy(() => void this.finish(true));
  }

  private async begin(): Promise<void> {
    const recorder = new Recorder(this.purpose());
    this.recorder.set(recorder);
    try {
      await recorder.open();
      if (this.over) return recorder.close();
      this.id = await this.files.beginRecording(this.purpose(), recorder.type);
      if (this.over) {
        this.recordings.drop(this.id);
        return recorder.close();
      }
      recorder.start(
        (piece) => this.recordings.add(this.id, piece),
        () => this.keep(),
      );
      this.going.set(true);
    } catch (error) {
      recorder.close();
      this.problem.set(messageOf(error));
    }
  }

  /** Ends it and keeps it, once. */
  private async finish(keeps: boolean): Promise<void> {
    const first = !this.over;
    this.over = true;
    if (!first || !this.going()) return;
    const [recorder, id] = [this.recorder()!, this.id];
    if (!keeps) this.recordings.drop(id);
    const measured = await recorder.stop();
    if (keeps) this.recordings.end(id, measured);
  }

  keep(): void {
    void this.finish(true);
    this.left.emit();
  }

  /** Nothing of it stays in the list; it can be put back for a week. */
  protected async drop(): Promise<void> {
    const file = this.files.all().find((f) => f.id === this.id);
    await this.finish(false);
    try {
      if (file) await this.files.setRemoved(file, true);
    } catch (error) {
      this.problem.set(messageOf(error));
      return;
    }
    this.left.emit();
  }
}
