import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import { MoversTable, type MoverRow } from './movers-table';

const row = (n: number, more: Partial<MoverRow> = {}): MoverRow => ({
  id: `s${n}`,
  name: `Student ${n}`,
  before: { percent: '70.0', letter: 'B' },
  after: { percent: '72.5', letter: 'B' },
  why: '',
  ...more,
});

async function shown(rows: MoverRow[], unlisted = 0) {
  TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
  const fixture = TestBed.createComponent(MoversTable);
  fixture.componentRef.setInput('rows', rows);
  fixture.componentRef.setInput('unlisted', unlisted);
  await fixture.whenStable();
  const root = fixture.nativeElement as HTMLElement;
  const lines = () =>
    [...root.querySelectorAll('tbody tr')].map((r) => [...r.querySelectorAll('td')].map((d) => d.textContent!.trim()));
  return { fixture, root, lines };
}

describe('who would move', () => {
  it('is said with both figures, or one where the letter alone changes, and why where it is known', async () => {
    const { root, lines } = await shown([
      row(1),
      row(2, { after: { percent: '70.0', letter: 'A' }, why: 'by the letters' }),
      row(3, { before: { percent: null, letter: null }, after: { percent: '50.0', letter: 'C' } }),
    ]);
    expect(lines().map((l) => l.slice(1))).toEqual([
      ['70.0 → 72.5', 'B'],
      ['70.0', 'B → A'],
      ['none → 50.0', '– → C'],
    ]);
    expect(lines()[1]![0]).toContain('by the letters');
    expect(root.querySelectorAll('.plum')).toHaveLength(2);
  });

  it('is a short list first, then all of it, and says how many are in none', async () => {
    const { fixture, root, lines } = await shown(
      Array.from({ length: 40 }, (_, n) => row(n)),
      7,
    );
    expect(lines()).toHaveLength(30);
    const more = root.querySelector<HTMLButtonElement>('button')!;
    expect(more.textContent).toContain('and 10 more');
    more.click();
    await fixture.whenStable();
    expect(lines()).toHaveLength(40);
    expect(root.textContent).toContain('7 more are not listed');
  });
});
