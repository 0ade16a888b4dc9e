import { ChangeDetectionStrategy, Component, DestroyRef, inject, output, signal } from '@angular/core';
import { StatusBar } from '../../../ui/layout/status-bar';
import { locale } from '../../../ui/text/locale';

/** What of the Web Speech API is used: a recognition that can be bound to the device. */
interface DeviceRecognition extends EventTarget {
  lang: string;
  continuous: boolean;
  interimResults: boolean;
  processLocally: boolean;
  start(): void;
  stop(): void;
}
interface RecognitionResults {
  resultIndex: number;
  results: ArrayLike<ArrayLike<{ transcript: string }> & { isFinal: boolean }>;
}
interface DeviceRecognitionClass {
  new (): DeviceRecognition;
  prototype: DeviceRecognition;
  /** "available": for these languages, here and now. */
  available?(options: { langs: string[]; processLocally: boolean }): Promise<string>;
}

/** The browser's recognition, where it works on this device alone for a language; null: it has none, or would send away what is said. */
async function onDevice(lang: string): Promise<DeviceRecognitionClass | null> {
  const known = globalThis as { SpeechRecognition?: DeviceRecognitionClass };
  const found = known.SpeechRecognition;
  if (!found?.available || !('processLocally' in found.prototype)) return null;
  return (await found.available({ langs: [lang], processLocally: true })) === 'available' ? found : null;
}

/** Writes what is said, where the browser can do that without sending it anywhere; elsewhere nothing stands here. */
@Component({
  selector: 'lt-dictation',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (recognition()) {
      <button type="button" class="word" [attr.aria-pressed]="listening()" (click)="turn()">
        {{ listening() ? 'stop dictating' : 'dictate' }}
      </button>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class Dictation {
  /** Words that were understood to their end. */
  readonly said = output<string>();
  private readonly statusBar = inject(StatusBar);
  protected readonly recognition = signal<DeviceRecognitionClass | null>(null);
  protected readonly listening = signal(false);
  private running: DeviceRecognition | null = null;

  constructor() {
    // Where asking fails there is none.
    onDevice(locale()).then(
      (found) => this.recognition.set(found),
      () => this.recognition.set(null),
    );
    inject(DestroyRef).onDestroy(() => {
      const running = this.running;
      this.running = null;
      running?.stop();
    });
  }

  protected turn(): void {
    if (this.running) return this.end();
    const running = new (this.recognition()!)();
    Object.assign(running, { lang: locale(), continuous: true, interimResults: false, processLocally: true });
    running.addEventListener('result', (event) => {
      const { results, resultIndex } = event as unknown as RecognitionResults;
      for (let i = resultIndex; i < results.length; i++) {
        const words = results[i]!.isFinal ? results[i]![0]!.transcript.trim() : '';
        // What comes after this note was left belongs nowhere.
        if (words !== '' && this.running === running) this.said.emit(words);
      }
    });
    running.addEventListener('error', (event) => {
      const { error } = event as unknown as { error: string };
      if (error !== 'no-speech' && error !== 'aborted')
        this.statusBar.announce(
          error === 'not-allowed'
            ? 'This browser lets nobody dictate here: allow the microphone.'
            : `Dictating ended: ${error}.`,
          'trouble',
        );
    });
    running.addEventListener('end', () => {
      if (this.running === running) this.running = null;
      this.listening.set(this.running !== null);
    });
    try {
      running.start();
    } catch (error) {
      return this.statusBar.announce(`Dictating does not begin: ${(error as Error).message}`, 'trouble');
    }
    this.running = running;
    this.listening.set(true);
  }

  private end(): void {
    this.listening.set(false);
    // What was said last is written still.
    this.running?.stop();
  }
}
