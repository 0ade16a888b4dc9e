import type { Page } from '@playwright/test';
import type { Random } from '../demo/random';

/** What people type, and what they do not. */
const TEXTS = [
  ...['', '  ', '7', '12.5', '0,5', '-1', '1e9', '3/4', 'late', 'excused', '31.2.', 'tomorrow 5pm', 'next Friday'],
  ...['/due 4 Dec', '=1+1', '9999-12-31', '🌾'.repeat(5), 'x'.repeat(400), '<b>x</b>', 'ĀB', 'a\u0000b'],
];
const KEYS = [
  ...['Enter', 'Escape', 'Tab', 'Shift+Tab', 'ArrowDown', 'ArrowUp', 'ArrowRight', 'ArrowLeft', 'Space', 'Delete'],
  ...[
    'Backspace',
    'Control+Enter',
    'Control+z',
    'Control+k',
    'Control+a',
    'Home',
    'End',
    'PageDown',
    '?',
    'F2',
    'a',
    '5',
  ],
];

/** What can be reached by a pointer. */
interface Reachable {
  x: number;
  y: number;
  /** It is typed into. */
  typed: boolean;
  name: string;
}

/** Something that is shown and can be pressed or typed into, by three numbers from 0 up to 1; null: nothing. */
function reachableAt([ofKind, ofThese, within]: [number, number, number]): Reachable | null {
  const all = document.querySelectorAll<HTMLElement>(
    'button:enabled, a[href^="/"], input:enabled, textarea:enabled, summary, [tabindex="0"], [contenteditable=true], ' +
      ['combobox', 'option', 'menuitem', 'gridcell', 'checkbox', 'radio', 'slider']
        .map((r) => `[role=${r}]`)
        .join(', '),
  );
  const shown = Array.from(all).filter((e) => {
    const { width, height, top, left, bottom, right } = e.getBoundingClientRect();
    const inside = top >= 0 && left >= 0 && bottom <= innerHeight && right <= innerWidth;
    return inside && width > 2 && height > 2 && e.checkVisibility() && !e.matches('[type=file]');
  });
  // Who signs out, or reads dates in another way from now on, sees other pages.
  const taken = shown.filter((e) => !/Sign out|^Settings|How dates/.test(e.getAttribute('aria-label') ?? e.innerText));
  const kinds = new Map<string, HTMLElement[]>();
  for (const e of taken) {
    const kind = `${e.tagName} ${e.getAttribute('role')}`;
    kinds.set(kind, [...(kinds.get(kind) ?? []), e]);
  }
  // What lies over the page is used first, mostly.
  const over = taken.filter((e) => e.closest('.p-dialog, [role=listbox], [role=menu], .p-popover'));
  const these = over.length > 0 && within < 0.8 ? over : [...kinds.values()][Math.floor(ofKind * kinds.size)];
  const one = these?.[Math.floor(ofThese * these.length)];
  if (!one) return null;
  const { left, top, width, height } = one.getBoundingClientRect();
  return {
    x: left + width / 2,
    y: top + height / 2,
    typed: one.matches('input:not([type=checkbox], [type=radio]), textarea, [contenteditable=true]'),
    name: `${one.tagName} ${one.getAttribute('role') ?? ''} ${(one.getAttribute('aria-label') ?? one.innerText).slice(0, 50)}`,
  };
}

/** Presses a key, or presses or types into something, and says what. */
export async function actAtRandom(page: Page, random: Random): Promise<string> {
  if (random.chance(0.2)) {
    const key = random.pick(KEYS);
    await page.keyboard.press(key);
    return `key ${key}`;
  }
  // A page that goes on meanwhile is asked again at the next act.
  const numbers: [number, number, number] = [random.next(), random.next(), random.next()];
  const one = await page.evaluate(reachableAt, numbers).catch(() => null);
  if (!one) return 'nothing';
  const clickCount = random.chance(0.15) ? 2 : 1;
  await page.mouse.click(one.x, one.y, { clickCount });
  if (!one.typed) return `click ${clickCount} ${one.name}`;
  const text = random.pick(TEXTS);
  if (random.chance(0.5)) await page.keyboard.press('Control+a');
  await page.keyboard.insertText(text);
  if (random.chance(0.5)) await page.keyboard.press('Enter');
  return `type ${JSON.stringify(text).slice(0, 30)} into ${one.name}`;
}
