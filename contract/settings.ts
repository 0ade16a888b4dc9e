import { Type } from '@sinclair/typebox';
import { LOCALES } from './wire/constants';
import { Choice, Shape, type Static } from './wire';

/** How dates and decimals are written and read. */
export const Locale = Choice(...LOCALES);
export type Locale = Static<typeof Locale>;

/** `machine`: as the machine has it. */
export const ColourScheme = Choice('machine', 'light', 'dark');
export type ColourScheme = Static<typeof ColourScheme>;

export const Density = Choice('close', 'roomy');
export type Density = Static<typeof Density>;

/** What a person set for themselves, wherever they sign in. PUT /settings takes it whole. */
export const PersonSettings = Shape({
  locale: Locale,
  colourScheme: ColourScheme,
  density: Density,
  /** Single letters and digits do something in the marking room. */
  bareKeys: Type.Boolean(),
});
export type PersonSettings = Static<typeof PersonSettings>;
