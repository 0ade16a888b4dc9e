import { ChangeDetectionStrategy, Component, computed, DestroyRef, type ElementRef, inject, input, output, signal, viewChild } from '@angular/core'; // prettier-ignore
import { FormsModule } from '@angular/forms';
import { Slider } from 'primeng/slider';
import { FileBytes } from '../file-bytes';
import type { WorkFile } from '../work-file';

/** Seconds as people read them: 0:42, 12:05. */
export function lengthWords(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}

/** Bars of a waveform, of the whole of it. */
const BARS = 60;

/** How loud each bar is, 0 to 1, of whatever was measured. */
export function barsOf(waveform: readonly number[], bars = BARS): number[] {
  if (waveform.length === 0) return [];
  return Array.from({ length: bars }, (_, i) => {
    const from = Math.floor((i * waveform.length) / bars);
    const to = Math.max(from + 1, Math.floor(((i + 1) * waveform.length) / bars));
    return Math.max(...waveform.slice(from, to)) / 100;
  });
}

/** Plays a recording: its waveform, its length, a place in it; one with a camera shows its picture. For one file. */
@Component({
  selector: 'lt-player',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, Slider],
  template: `
    <video
      #media
      [class.film]="camera() && source() !== ''"
      playsinline
      (timeupdate)="now.set(media.currentTime)"
      (seeked)="now.set(media.currentTime)"
      (play)="playing.set(true); played.emit()"
      (pause)="playing.set(false)"
      (ended)="ended()"
      (loadedmetadata)="measure()"
      (durationchange)="measure()"
      (error)="fault.set(source() === '' ? '' : CANNOT)"
    ></video>
    @if (fault()) {
      <p class="problem" role="status">
        {{ fault() }} <a class="word" [href]="file().address" [download]="file().name">{{ file().name }}</a>
      </p>
    } @else {
      <div class="line">
        <button type="button" class="word" [disabled]="fetching()" (click)="toggle()">
          {{ playing() ? 'stop' : 'play' }}
        </button>
        <span class="wave">
          <svg viewBox="0 0 240 24" preserveAspectRatio="none" aria-hidden="true">
            @for (bar of bars(); track $index) {
              <rect
                [attr.x]="$index * 4 + 0.7"
                [attr.y]="12 - 11 * bar - 0.6"
                width="2.6"
                [attr.height]="22 * bar + 1.2"
                [class.past]="$index / bars().length < now() / length()"
              />
            } @empty {
              <rect x="0" y="11.4" width="240" height="1.2" />
            }
          </svg>
          <p-slider
            ariaLabel="Place in the recording"
            [autofocus]="false"
            [min]="0"
            [max]="length()"
            [step]="0.1"
            [disabled]="source() === ''"
            [ngModel]="now()"
            (ngModelChange)="goTo($event)"
          />
        </span>
        <span class="mono">{{ words() }}</span>
      </div>
    }
  `,
  styleUrl: './player.css',
})
export class Player {
  readonly file = input.required<WorkFile>();
  readonly seconds = input.required<number | null>();
  readonly waveform = input.required<readonly number[]>();
  readonly camera = input(false);
  /** Somebody began to play it. */
  readonly played = output();
  private readonly bytes = inject(FileBytes);
  private readonly media = viewChild.required<ElementRef<HTMLVideoElement>>('media');
  protected readonly CANNOT =
    'This recording is damaged, or of a kind that this browser does not play. It can be saved:';
  protected readonly source = signal('');
  protected readonly fetching = signal(false);
  protected readonly fault = signal('');
  protected readonly playing = signal(false);
  protected readonly now = signal(0);
  private readonly measured = signal(0);
  protected readonly bars = computed(() => barsOf(this.waveform()));
  protected readonly length = computed(() => Math.max(0.1, this.seconds() ?? this.measured()));
  protected readonly words = computed(() => {
    const whole = this.seconds() ?? (this.measured() > 0 ? this.measured() : null);
    if (whole === null) return '–:––';
    return this.now() > 0 ? `${lengthWords(this.now())} / ${lengthWords(whole)}` : lengthWords(whole);
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => {
      if (this.source() !== '') URL.revokeObjectURL(this.source());
    });
  }

  async toggle(): Promise<void> {
    const media = this.media().nativeElement;
    if (this.playing()) return media.pause();
    try {
      if (this.source() === '') await this.fetch();
      await media.play();
    } catch (error) {
      // Stopped before it began.
      if (error instanceof DOMException && error.name === 'AbortError') return;
      this.fault.set(
        error instanceof DOMException ? this.CANNOT : error instanceof Error ? error.message : this.CANNOT,
      );
    }
  }

  private async fetch(): Promise<void> {
    this.fetching.set(true);
    try {
      const bytes = await this.bytes.of(this.file());
      this.source.set(URL.createObjectURL(new Blob([bytes], { type: this.file().mediaType ?? 'video/webm' })));
      this.media().nativeElement.src = this.source();
    } finally {
      this.fetching.set(false);
    }
  }

  /** What a browser has written says its length only once its end was looked at. */
  protected measure(): void {
    const media = this.media().nativeElement;
    if (Number.isFinite(media.duration)) this.measured.set(media.duration);
  }

  protected ended(): void {
    this.measured.set(Math.max(this.measured(), this.media().nativeElement.currentTime));
    this.now.set(0);
    this.playing.set(false);
  }

  protected goTo(seconds: number): void {
    this.now.set(seconds);
    this.media().nativeElement.currentTime = seconds;
  }
}
