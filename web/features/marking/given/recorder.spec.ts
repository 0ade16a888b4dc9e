import { afterEach, describe, expect, it, vi } from 'vitest';
import { messageOf } from '../../../data/api';
import { cannotRecord, Recorder, shortened } from './recorder';

afterEach(() => vi.unstubAllGlobals());

describe('a recorder', () => {
  it('keeps the loudest of each part of what it measured, in four hundred values at most', () => {
    expect(shortened([1, 2, 3])).toEqual([1, 2, 3]);
    expect(shortened([0, 9, 1, 4, 7], 2)).toEqual([9, 7]);
    const long = Array.from({ length: 6_000 }, (_, i) => (i === 5_999 ? 100 : i % 50));
    expect(shortened(long)).toHaveLength(400);
    expect(shortened(long).at(-1)).toBe(100);
  });

  it('rests and goes on in the same recording; what rested counts nothing', async () => {
    vi.useFakeTimers();
    const calls: string[] = [];
    class Recording {
      state = 'inactive';
      onstop: (() => void) | null = null;
      static isTypeSupported = (): boolean => true;
      start(): void {
        this.state = 'recording';
      }
      pause(): void {
        calls.push('pause');
      }
      resume(): void {
        calls.push('resume');
      }
      stop(): void {
        this.state = 'inactive';
        this.onstop?.();
      }
    }
    const track = { stop: () => undefined, onended: null };
    const stream = { getTracks: () => [track], getAudioTracks: () => [track] };
    vi.stubGlobal('isSecureContext', true);
    vi.stubGlobal('MediaRecorder', Recording);
    vi.stubGlobal('navigator', { mediaDevices: { getUserMedia: () => Promise.resolve(stream) } });
    vi.stubGlobal(
      'AudioContext',
      class {
        createAnalyser = () => ({ fftSize: 0, getFloatTimeDomainData: (all: Float32Array) => all.fill(0.1) });
        createMediaStreamSource = () => ({ connect: () => undefined });
        close = () => Promise.resolve();
      },
    );
    const recorder = new Recorder('voice');
    await recorder.open();
    recorder.start(
      () => undefined,
      () => undefined,
    );
    vi.advanceTimersByTime(2_000);
    recorder.rest(true);
    recorder.rest(true);
    vi.advanceTimersByTime(60_000);
    expect([recorder.resting(), recorder.level(), Math.round(recorder.seconds())]).toEqual([true, 0, 2]);
    recorder.rest(false);
    vi.advanceTimersByTime(1_000);
    const { seconds, waveform } = await recorder.stop();
    expect(calls).toEqual(['pause', 'resume']);
    expect(seconds).toBe(3);
    expect(waveform).toHaveLength(30);
    vi.useRealTimers();
  });

  it('says in a sentence why nothing can be recorded', async () => {
    vi.stubGlobal('isSecureContext', false);
    expect(cannotRecord()).toContain('https');
    const said = await new Recorder('voice').open().catch(messageOf);
    expect(said).toBe(cannotRecord());
    vi.stubGlobal('isSecureContext', true);
    vi.stubGlobal('MediaRecorder', undefined);
    expect(cannotRecord()).toContain('does not record');
    vi.stubGlobal('MediaRecorder', class {});
    for (const [name, words] of [
      ['NotAllowedError', 'does not let this page use the camera and microphone'],
      ['NotFoundError', 'There is no camera and microphone'],
      ['NotReadableError', 'another program may have it'],
    ]) {
      const getUserMedia = (): Promise<never> => Promise.reject(new DOMException('', name));
      vi.stubGlobal('navigator', { mediaDevices: { getUserMedia } });
      expect(await new Recorder('camera').open().catch(messageOf)).toContain(words);
    }
  });
});
