import type { PersonSettings } from '../settings';

// What pages need of the contract while they run: apart from the schemas, whose package no page loads for it.

/** Ways in which dates and decimals can be written and read. */
export const LOCALES = ['en-GB', 'en-US', 'de-DE', 'es-ES', 'fr-FR', 'it-IT', 'nl-NL', 'pt-PT', 'sv-SE'] as const;
export const DEFAULT_LOCALE: (typeof LOCALES)[number] = 'en-GB';
export const DEFAULT_SETTINGS: PersonSettings = {
  locale: DEFAULT_LOCALE,
  colourScheme: 'machine',
  density: 'close',
  bareKeys: true,
};
/** Letters of a staff note at most. */
export const NOTE_LENGTH = 2_000;
