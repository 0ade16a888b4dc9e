import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  inject,
  input,
  output,
  resource,
  signal,
} from '@angular/core';
import { DocumentPage } from './documents/document-page';
import { PdfPages } from './pdf-pages';
import { PicturePage } from './picture-page';
import { ReadyFiles } from './ready-files';
import { TextPage } from './text-page';
import { shownAs, type WorkFile } from './work-file';

/** One file of somebody's work, shown as what it is; what cannot be shown says why, with the original. For one file. */
@Component({
  selector: 'lt-file-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DocumentPage, PdfPages, PicturePage, TextPage],
  template: `
    @if (problem(); as why) {
      <div class="why" role="status">
        <p>{{ why }}</p>
        <a class="word" [href]="file().address" [download]="file().name">{{ file().name }}</a>
      </div>
    } @else if (ready(); as r) {
      @switch (r.as) {
        @case ('pdf') {
          <lt-pdf-pages
            [document]="r.document"
            [width]="width()"
            [zoom]="zoom()"
            [turn]="turn()"
            (failed)="fault.set($event)"
            (stuck)="files.endPdf()"
            (counted)="pages.emit($event)"
          />
        }
        @case ('picture') {
          <lt-picture-page
            [picture]="r.picture"
            [name]="file().name"
            [width]="width()"
            [zoom]="zoom()"
            [turn]="turn()"
          />
        }
        @case ('document') {
          <lt-document-page [content]="r.content" [width]="width()" [zoom]="zoom()" />
        }
        @default {
          @if (kind() === 'sound') {
            <div class="plays">
              <audio controls [src]="source()" (error)="fault.set(CANNOT_PLAY)" data-drawn="yes"></audio>
            </div>
          } @else if (kind() === 'film') {
            <div class="plays">
              <video controls [src]="source()" (error)="fault.set(CANNOT_PLAY)" data-drawn="yes"></video>
            </div>
          } @else {
            <lt-text-page [bytes]="r.bytes" [name]="file().name" [width]="width()" [zoom]="zoom()" />
          }
        }
      }
    } @else {
      <p class="coming" role="status">{{ file().name }} is fetched …</p>
    }
  `,
  styles: `
    .why,
    .plays,
    .coming {
      display: grid;
      gap: 10px;
      justify-items: center;
      align-content: center;
      min-height: 220px;
      padding: 24px;
      background: var(--paper);
      box-shadow: 0 0 0 1px var(--rule);
      text-align: center;
    }
    .coming {
      color: var(--pencil);
    }
    audio {
      width: min(100%, 520px);
    }
    video {
      max-width: 100%;
      max-height: 70vh;
    }
  `,
})
export class FileView {
  readonly file = input.required<WorkFile>();
  readonly width = input.required<number>();
  readonly zoom = input(1);
  readonly turn = input(0);
  /** Of a document with pages: how many. */
  readonly pages = output<number>();
  protected readonly CANNOT_PLAY = 'This recording is damaged, or of a kind that this browser does not play.';
  protected readonly fault = signal('');
  protected readonly kind = computed(() => {
    const as = shownAs(this.file());
    return typeof as === 'string' ? as : null;
  });
  protected readonly files = inject(ReadyFiles);
  private readonly fetched = resource({
    params: () => (this.kind() === null ? undefined : this.file()),
    loader: ({ params }) => this.files.of(params),
  });
  protected readonly ready = computed(() => (this.fetched.hasValue() ? this.fetched.value() : undefined));
  protected readonly problem = computed(() => {
    const as = shownAs(this.file());
    if (typeof as !== 'string') return as.why;
    return this.fault() || (this.fetched.error()?.message ?? '');
  });
  private address = '';
  /** Of a recording: where the player reads it. */
  protected readonly source = computed(() => {
    const ready = this.ready();
    if (ready?.as === 'bytes' && this.address === '')
      this.address = URL.createObjectURL(new Blob([ready.bytes], { type: this.file().mediaType ?? '' }));
    return this.address;
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => {
      if (this.address !== '') URL.revokeObjectURL(this.address);
    });
  }
}
