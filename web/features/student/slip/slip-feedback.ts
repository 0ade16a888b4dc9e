import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { SlipFile, SlipWork } from '@contract/slips';
import { counted } from '@core/words/count';
import { RichTextView } from '../../../text/rich-text-view';
import { sizeOf } from '../../../ui/text/file-words';
import { Player } from '../../../viewer/recording/player';
import type { WorkFile } from '../../../viewer/work-file';
import { slipFileAddress, type SlipPlace } from '../../../data/work/slips';

/** What was said of one piece of work: the end note, recordings, notes on the work, files that are given back. */
@Component({
  selector: 'lt-slip-feedback',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Player, RichTextView],
  template: `
    @if (work()?.note; as note) {
      <lt-rich-text [text]="note" />
    }
    @for (r of recordings(); track r.id) {
      <lt-player
        [file]="fileOf(r)"
        [seconds]="r.seconds"
        [waveform]="r.waveform"
        [camera]="r.purpose === 'camera'"
        (played)="played.emit(r.id)"
      />
    }
    @if (said() > 0) {
      <p>
        {{ notes() }} on the work:
        <button type="button" class="word" (click)="opened.emit()">see them where they stand</button>
      </p>
    }
    @if (given().length > 0) {
      <p class="given">
        {{ given().length === 1 ? 'File given back' : 'Files given back' }}:
        @for (f of given(); track f.id) {
          <a class="word" [href]="fileOf(f).address" [download]="f.name">{{ f.name }}</a>
          <span class="quiet">{{ size(f) }}</span>
        }
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    lt-player {
      max-width: 460px;
    }
    p {
      margin: 0;
    }
    .given {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 10px;
      overflow-wrap: anywhere;
    }
  `,
})
export class SlipFeedback {
  readonly place = input.required<SlipPlace>();
  /** Null: files for everybody stand alone. */
  readonly work = input.required<SlipWork | null>();
  readonly everybody = input<readonly SlipFile[]>([]);
  readonly played = output<string>();
  /** The notes on the work are to be seen on it. */
  readonly opened = output();
  private readonly files = computed(() => [...(this.work()?.files ?? []), ...this.everybody()]);
  protected readonly recordings = computed(() => this.files().filter((f) => f.purpose !== 'given'));
  protected readonly given = computed(() => this.files().filter((f) => f.purpose === 'given'));
  protected readonly said = computed(() => this.work()?.marks.length ?? 0);
  protected readonly notes = computed(() => counted(this.said(), 'note', 'notes'));

  protected fileOf(f: SlipFile): WorkFile {
    const { id, name, bytes, mediaType, sha256 } = f;
    return { ...{ id, name, bytes, mediaType, sha256 }, key: `slip/${id}`, address: slipFileAddress(this.place(), id) };
  }

  protected size(f: SlipFile): string {
    return sizeOf(f.bytes);
  }
}
