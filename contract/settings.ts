import { Choice, Shape, type Static } from './wire';

/** How dates and decimals are written and read. */
export const LOCALES = ['en-GB', 'en-US', 'de-DE', 'es-ES', 'fr-FR', 'it-IT', 'nl-NL', 'pt-PT', 'sv-SE'] as const;
export const DEFAULT_LOCALE: Locale = 'en-GB';
export const Locale = Choice(...LOCALES);
export type Locale = Static<typeof Locale>;

/** `machine`: as the machine has it. */
export const ColourScheme = Choice('machine', 'light', 'dark');
export type ColourScheme = Static<typeof ColourScheme>;

export const Density = Choice('close', 'roomy');
export type Density = Static<typeof Density>;

/** What a person set for themselves, wherever they sign in. PUT /settings takes it whole. */
export const PersonSettings = Shape({ locale: Locale, colourScheme: ColourScheme, density: Density });
export type PersonSettings = Static<typeof PersonSettings>;

export const DEFAULT_SETTINGS: PersonSettings = { locale: DEFAULT_LOCALE, colourScheme: 'machine', density: 'close' };
