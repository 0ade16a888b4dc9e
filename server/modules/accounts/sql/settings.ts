import { DEFAULT_SETTINGS, LOCALES } from '@contract/wire/constants';
import type { PersonSettings } from '@contract/settings';
import type { Db } from '../../../kernel/database';

/** What somebody set for themselves. A locale that is offered no more is read as the usual one. */
export async function settingsOf(db: Db, school: string, person: string): Promise<PersonSettings> {
  const { rows } = await db.query<PersonSettings>(
    `select locale, colour_scheme as "colourScheme", density, bare_keys as "bareKeys" from person_settings where school = $1 and person = $2`,
    [school, person],
  );
  const kept = rows[0];
  if (!kept) return DEFAULT_SETTINGS;
  return LOCALES.includes(kept.locale) ? kept : { ...kept, locale: DEFAULT_SETTINGS.locale };
}

export async function putSettings(db: Db, school: string, person: string, settings: PersonSettings): Promise<void> {
  await db.query(
    `insert into person_settings (school, person, locale, colour_scheme, density, bare_keys) values ($1, $2, $3, $4, $5, $6)
     on conflict (school, person) do update
       set locale = excluded.locale, colour_scheme = excluded.colour_scheme, density = excluded.density,
         bare_keys = excluded.bare_keys`,
    [school, person, settings.locale, settings.colourScheme, settings.density, settings.bareKeys],
  );
}
