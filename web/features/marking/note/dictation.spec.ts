import { ChangeDetectionStrategy, Component } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { Dictation } from './dictation';

class Recognition extends EventTarget {
  static made: Recognition[] = [];
  static answer = 'available';
  static asked: unknown[] = [];
  static available(options: unknown): Promise<string> {
    Recognition.asked.push(options);
    return Promise.resolve(Recognition.answer);
  }
  declare lang: string;
  stopped = false;
  constructor() {
    super();
    Recognition.made.push(this);
  }
  get processLocally(): boolean {
    return this.local;
  }
  set processLocally(on: boolean) {
    this.local = on;
  }
  private local = false;
  start(): void {}
  stop(): void {
    this.stopped = true;
    this.dispatchEvent(new Event('end'));
  }
  say(transcript: string, isFinal = true): void {
    const results = [Object.assign([{ transcript }], { isFinal })];
    this.dispatchEvent(Object.assign(new Event('result'), { resultIndex: 0, results }));
  }
}

@Component({
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Dictation],
  template: `<lt-dictation (said)="said.push($event)" />`,
})
class Host {
  said: string[] = [];
}

async function shown(recognition: unknown) {
  vi.stubGlobal('SpeechRecognition', recognition);
  Recognition.made = [];
  const fixture = TestBed.createComponent(Host);
  await fixture.whenStable();
  await new Promise((done) => setTimeout(done));
  await fixture.whenStable();
  const button = (): HTMLButtonElement | null => fixture.nativeElement.querySelector('button');
  return { fixture, button };
}

describe('dictating', () => {
  afterEach(() => vi.unstubAllGlobals());

  it('is offered only where the browser understands on the device itself', async () => {
    expect((await shown(undefined)).button()).toBeNull();
    // One that sends what is said away has no word for the device.
    expect((await shown(class extends EventTarget {})).button()).toBeNull();
    Recognition.answer = 'downloadable';
    expect((await shown(Recognition)).button()).toBeNull();
    Recognition.answer = 'available';
    expect((await shown(Recognition)).button()!.textContent).toContain('dictate');
    expect(Recognition.asked.at(-1)).toMatchObject({ processLocally: true });
  });

  it('gives what was understood to its end, on the device, until it is stopped', async () => {
    const { fixture, button } = await shown(Recognition);
    button()!.click();
    await fixture.whenStable();
    const [running] = Recognition.made;
    expect(running!.processLocally).toBe(true);
    running!.say('the pit', false);
    running!.say(' The pit was dug. ');
    expect(fixture.componentInstance.said).toEqual(['The pit was dug.']);
    expect(button()!.textContent).toContain('stop dictating');
    button()!.click();
    await fixture.whenStable();
    expect(running!.stopped).toBe(true);
    expect(button()!.textContent!.trim()).toBe('dictate');
    running!.say('late');
    expect(fixture.componentInstance.said).toHaveLength(1);
  });

  it('ends with its note: what is understood afterwards goes nowhere', async () => {
    const { fixture, button } = await shown(Recognition);
    button()!.click();
    const [running] = Recognition.made;
    running!.stop = () => (running!.stopped = true);
    fixture.destroy();
    expect(running!.stopped).toBe(true);
    running!.say('Of somebody else.');
    running!.dispatchEvent(new Event('end'));
    expect(fixture.componentInstance.said).toEqual([]);
  });
});
