import { TestBed } from '@angular/core/testing';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { KeyPause } from './key-pause';

const press = (): boolean => document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '7', bubbles: true }));

describe('the pause between keys', () => {
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => vi.useRealTimers());

  it('comes after the time asked for where no key is pressed', () => {
    const work = vi.fn();
    TestBed.inject(KeyPause).after(180, work);
    vi.advanceTimersByTime(179);
    expect(work).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1);
    expect(work).toHaveBeenCalledTimes(1);
  });

  it('is put off by every key, even one that its part does not hear, and comes once', () => {
    const work = vi.fn();
    document.body.addEventListener('keydown', (e) => e.stopPropagation(), { once: true });
    TestBed.inject(KeyPause).after(180, work);
    for (let n = 0; n < 10; n++) {
      vi.advanceTimersByTime(90);
      press();
    }
    vi.advanceTimersByTime(179);
    expect(work).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1_000);
    expect(work).toHaveBeenCalledTimes(1);
  });

  it('does nothing once it is called off', () => {
    const work = vi.fn();
    const callOff = TestBed.inject(KeyPause).after(180, work);
    vi.advanceTimersByTime(100);
    press();
    vi.advanceTimersByTime(100);
    callOff();
    vi.advanceTimersByTime(1_000);
    expect(work).not.toHaveBeenCalled();
  });
});
