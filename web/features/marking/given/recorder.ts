import { signal } from '@angular/core';
import { MOST_RECORDED_BYTES, MOST_SECONDS } from '@contract/work/feedback';
import { Refusal } from '../../../data/api';

/** Milliseconds of a piece: what a page that closes may lose. */
const PIECE = 2_000;
/** Milliseconds between two looks at how loud it is. */
const LOOK = 100;
/** Bytes before what a recording may have at which it ends: another piece is on its way. */
const SPARE = 2_000_000;
/** Values of a waveform at most. */
const WAVEFORM = 400;

const KINDS = {
  voice: ['audio/webm;codecs=opus', 'audio/mp4', 'audio/ogg;codecs=opus'],
  camera: ['video/webm;codecs=vp8,opus', 'video/mp4', 'video/webm'],
} as const;

/** Why nothing can be recorded here; '' where it can. */
export function cannotRecord(): string {
  if (!globalThis.isSecureContext) return 'Recording works at an address with https alone.';
  if (typeof MediaRecorder === 'undefined' || !navigator.mediaDevices)
    return 'This browser does not record. Give a file instead.';
  return '';
}

/** The same in so many values at most, each the loudest of those in its place. */
export function shortened(levels: readonly number[], most = WAVEFORM): number[] {
  if (levels.length <= most) return [...levels];
  return Array.from({ length: most }, (_, i) =>
    Math.max(...levels.slice(Math.floor((i * levels.length) / most), Math.ceil(((i + 1) * levels.length) / most))),
  );
}

/** One recording of a voice, with a camera or without, in pieces as they are made. */
export class Recorder {
  readonly seconds = signal(0);
  /** How loud it is now, 0 to 100. */
  readonly level = signal(0);
  /** What the camera sees. */
  readonly picture = signal<MediaStream | null>(null);
  private readonly levels: number[] = [];
  private recorder: MediaRecorder | null = null;
  private stream: MediaStream | null = null;
  private audio: AudioContext | null = null;
  private timer: ReturnType<typeof setInterval> | undefined;
  private bytes = 0;
  /** Nothing is taken down for the moment; the microphone stays. */
  readonly resting = signal(false);
  /** Milliseconds that were taken down before the last rest, and when it went on. */
  private before = 0;
  private begun = 0;

  constructor(readonly purpose: 'voice' | 'camera') {}

  /** What is recorded, once it is open. */
  get type(): string {
    return KINDS[this.purpose].find((t) => MediaRecorder.isTypeSupported(t)) ?? '';
  }

  /** Asks for the microphone, and the camera. Refuses with a sentence. */
  async open(): Promise<void> {
    const why = cannotRecord();
    if (why) throw new Refusal(why);
    const video = this.purpose === 'camera' ? { width: { ideal: 640 }, height: { ideal: 480 }, frameRate: { ideal: 24 } } : false; // prettier-ignore
    try {
      this.stream = await navigator.mediaDevices.getUserMedia({ audio: true, video });
    } catch (error) {
      throw new Refusal(refusalOf(error, this.purpose));
    }
    if (this.purpose === 'camera') this.picture.set(this.stream);
  }

  /** `piece` is given each piece as it is made; `full` says that it has to end. */
  start(piece: (bytes: Blob) => void, full: () => void): void {
    const options = { mimeType: this.type, audioBitsPerSecond: 64_000, videoBitsPerSecond: 900_000 };
    const recorder = (this.recorder = new MediaRecorder(this.stream!, options));
    recorder.ondataavailable = ({ data }) => {
      this.bytes += data.size;
      piece(data);
      if (this.bytes > MOST_RECORDED_BYTES - SPARE) full();
    };
    // A microphone that was pulled out.
    this.stream!.getAudioTracks()[0]!.onended = full;
    recorder.start(PIECE);
    this.begun = performance.now();
    this.listen(full);
  }

  private listen(full: () => void): void {
    this.audio = new AudioContext();
    const look = this.audio.createAnalyser();
    look.fftSize = 2_048;
    this.audio.createMediaStreamSource(this.stream!).connect(look);
    const samples = new Float32Array(look.fftSize);
    this.timer = setInterval(() => {
      look.getFloatTimeDomainData(samples);
      const power = Math.sqrt(samples.reduce((sum, s) => sum + s * s, 0) / samples.length);
      // Of a voice near a microphone a third of the whole is loud.
      const level = Math.min(100, Math.round(power * 300));
      if (this.resting()) return this.level.set(0);
      this.levels.push(level);
      this.level.set(level);
      this.seconds.set(this.taken() / 1_000);
      if (this.seconds() >= MOST_SECONDS) full();
    }, LOOK);
  }

  /** Milliseconds that were taken down. */
  private taken(): number {
    return this.before + (this.resting() ? 0 : performance.now() - this.begun);
  }

  /** Rests, or goes on in the same recording. */
  rest(on: boolean): void {
    if (on === this.resting() || !this.recorder || this.recorder.state === 'inactive') return;
    if (on) {
      this.before = this.taken();
      this.recorder.pause();
    } else {
      this.begun = performance.now();
      this.recorder.resume();
    }
    this.resting.set(on);
  }

  /** Ends it; its last piece was given before. */
  async stop(): Promise<{ seconds: number; waveform: number[] }> {
    const seconds = Math.min(MOST_SECONDS, Math.round(this.taken() / 100) / 10);
    const recorder = this.recorder;
    if (recorder && recorder.state !== 'inactive')
      await new Promise<void>((done) => {
        recorder.onstop = () => done();
        recorder.stop();
      });
    this.close();
    return { seconds, waveform: shortened(this.levels) };
  }

  /** Lets go of microphone and camera. */
  close(): void {
    clearInterval(this.timer);
    for (const track of this.stream?.getTracks() ?? []) {
      track.onended = null;
      track.stop();
    }
    this.picture.set(null);
    // Closed or not: nobody listens any more.
    this.audio?.close().catch(() => undefined);
    this.audio = null;
  }
}

function refusalOf(error: unknown, purpose: 'voice' | 'camera'): string {
  const what = purpose === 'camera' ? 'camera and microphone' : 'microphone';
  const name = error instanceof DOMException ? error.name : '';
  if (name === 'NotAllowedError') return `This browser does not let this page use the ${what}. Allow it beside the address, then try again.`; // prettier-ignore
  if (name === 'NotFoundError') return `There is no ${what} on this machine.`;
  return `The ${what} cannot be used: another program may have it.`;
}
