import { existsSync } from 'node:fs';
import { installDebian } from './packages.mjs';

const WINDOWED = '/usr/bin/chromium';
/** Debian's Chromium without anything of a window: its pages are the same, and a fifth less is to be worked out for each. */
const SHELL = '/usr/bin/chromium-headless-shell';

/** The Chromium in which pages are tested: the one that CHROMIUM names, or the lightest that is installed. */
export const testChromium = () => process.env['CHROMIUM'] ?? (existsSync(SHELL) ? SHELL : WINDOWED);

/** Installs it where it is missing. Where only the one with windows is there and nothing can be installed, that one serves. */
export async function ensureTestChromium() {
  if (process.env['CHROMIUM'] || existsSync(SHELL)) return;
  try {
    await installDebian(['chromium-headless-shell'], 'Chromium');
  } catch (error) {
    if (!existsSync(WINDOWED)) throw error;
  }
}

/** The Chromium that pages are measured and pictured in, as people have it, installed where it is missing: figures of a lighter one are others. */
export async function ensureChromium() {
  if (process.env['CHROMIUM']) return process.env['CHROMIUM'];
  if (!existsSync(WINDOWED)) await installDebian(['chromium'], 'Chromium');
  return WINDOWED;
}
