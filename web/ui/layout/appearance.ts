import { signal } from '@angular/core';
import { DEFAULT_SETTINGS } from '@contract/wire/constants';
import type { ColourScheme, Density, PersonSettings } from '@contract/settings';
import { locale } from '../text/locale';

/** Colours, rows and ways of writing as the person who is signed in set them. */
export const density = signal<Density>(DEFAULT_SETTINGS.density);

/** Single letters and digits do something in the marking room. */
export const bareKeys = signal<boolean>(DEFAULT_SETTINGS.bareKeys);

/** The scheme of the last visit, so that the first paint has it already. */
const KEY = 'last-tally-colours';
const machine = matchMedia('(prefers-color-scheme: dark)');
let scheme: ColourScheme = 'machine';

// A browser may keep nothing for pages: the first paint is then as the machine has it.
function remembered(): ColourScheme {
  try {
    const kept = localStorage.getItem(KEY);
    return kept === 'dark' || kept === 'light' ? kept : 'machine';
  } catch {
    return 'machine';
  }
}
function remember(scheme: ColourScheme): void {
  try {
    if (scheme === 'machine') localStorage.removeItem(KEY);
    else localStorage.setItem(KEY, scheme);
  } catch {
    return;
  }
}

function paint(): void {
  const dark = scheme === 'dark' || (scheme === 'machine' && machine.matches);
  document.documentElement.classList.toggle('dark', dark);
}

/** Before anybody is known: as it was the last time on this machine. */
export function startAppearance(): void {
  scheme = remembered();
  paint();
  machine.addEventListener('change', paint);
}

/** From now on as this person has it; null: as everybody does who is not signed in. */
export function applySettings(settings: PersonSettings | null): void {
  const now = settings ?? DEFAULT_SETTINGS;
  scheme = now.colourScheme;
  remember(scheme);
  density.set(now.density);
  bareKeys.set(now.bareKeys);
  document.documentElement.classList.toggle('roomy', now.density === 'roomy');
  locale.set(now.locale);
  paint();
  // Without the words of a language its days are read in English.
  if (!now.locale.startsWith('en'))
    import('../text/read-day').then((m) => m.loadDayReader(now.locale)).catch(() => undefined);
}
