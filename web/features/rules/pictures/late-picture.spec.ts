import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import type { LateRule } from '@core/book/document';
import { LatePicture, takenAt } from './late-picture';

const drawn = (rule: LateRule, now?: LateRule): HTMLElement => {
  const fixture = TestBed.createComponent(LatePicture);
  fixture.componentRef.setInput('rule', rule);
  fixture.componentRef.setInput('now', now);
  fixture.detectChanges();
  return fixture.nativeElement as HTMLElement;
};
const texts = (picture: HTMLElement): string[] =>
  [...picture.querySelectorAll('text')].map((t) => t.textContent.trim());
const daily: LateRule = { unit: 'day', deduct: 10, max: 50 };

describe('the picture of what lateness takes', () => {
  it('has one line for a rule that neither banks days nor takes more after closing', () => {
    const picture = drawn(daily);
    expect(picture.querySelectorAll('path')).toHaveLength(1);
    expect(texts(picture).some((t) => /spent|closed/.test(t))).toBe(false);
  });

  it('shows what it takes with as many late days spent as one assessment takes', () => {
    expect([takenAt(daily, 60), takenAt(daily, 60, 2), takenAt(daily, 60, 3)]).toEqual([30, 10, 0]);
    const picture = drawn({ ...daily, bank: { units: 3, perItem: 2 } });
    expect(picture.querySelector('path.spent')).not.toBeNull();
    expect(texts(picture)).toContain('with 2 late days spent');
    expect(texts(drawn({ ...daily, unit: 'hour', bank: { units: 1 } }))).toContain('with 1 late hour spent');
  });

  it('shows what is taken at least once it has closed, also in words', () => {
    const picture = drawn({ ...daily, afterCloses: 100 });
    expect(texts(picture)).toContain('after it has closed, at least 100 %');
    expect(texts(picture)).toContain('100');
    expect(picture.querySelector('svg')!.getAttribute('aria-label')).toContain('after it has closed at least 100 %');
  });

  it('shows the rule in force beside the one that is tried', () => {
    const picture = drawn({ ...daily, deduct: 20 }, daily);
    expect(picture.querySelectorAll('path.now, path.trial')).toHaveLength(2);
    expect(texts(picture)).toEqual(expect.arrayContaining(['now', 'in the trial']));
  });
});
