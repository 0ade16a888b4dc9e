import { signal } from '@angular/core';
import * as english from 'chrono-node/en';
import { parseMoment } from '@core/time/moment';
import { locale } from './locale';
import { inZone, shownAt, time } from './dates';

type DayReader = Pick<english.Chrono, 'parse'>;

/** The languages that the package reads, each loaded when somebody writes in it. English is read always. */
const LANGUAGES: Record<string, () => Promise<{ casual: unknown }>> = {
  de: () => import('chrono-node/de'),
  es: () => import('chrono-node/es'),
  fr: () => import('chrono-node/fr'),
  it: () => import('chrono-node/it'),
  nl: () => import('chrono-node/nl'),
  pt: () => import('chrono-node/pt'),
  sv: () => import('chrono-node/sv'),
};
const loaded = signal<Record<string, DayReader>>({});

/** Makes days readable in the language of a locale. Rejects where its words cannot be fetched: English is read then. */
export async function loadDayReader(tag: string): Promise<void> {
  const language = tag.slice(0, 2);
  const load = LANGUAGES[language];
  if (!load || loaded()[language]) return;
  const { casual } = await load();
  loaded.update((all) => ({ ...all, [language]: casual as DayReader }));
}

/** The month before the day only where people write so. */
const readers = (): DayReader[] => {
  const own = loaded()[locale().slice(0, 2)];
  return [...(own ? [own] : []), locale() === 'en-US' ? english.casual : english.GB];
};

export interface DayContext {
  zone: string;
  /** RFC 3339; a day without a year is the one nearest to it. */
  near: string;
  /** RFC 3339; a day without a time has its time of day, or else 17:00. */
  like?: string | null;
  /** RFC 3339; "tomorrow" counts from it. `near` where it is not given. */
  now?: string;
  /** "Friday" is the last one, not the next. */
  past?: boolean;
}

/**
 * Reads a day as people write it, by their locale: "27 Nov", "27/11", "27 Nov 17:00", "next Friday", "tomorrow 5pm",
 * "2026-11-27". RFC 3339, or null where it is no day.
 */
export function readDay(text: string, { zone, near, like, now = near, past }: DayContext): string | null {
  const words = text.trim().replace(/\s+/g, ' ');
  if (words === '' || words.length > 60) return null;
  for (const reader of readers()) {
    const moment = readWith(reader, words, { zone, near, like, now, past });
    if (moment !== null) return momentText(moment);
  }
  // A time behind the day in a language whose own way of saying times is another.
  const [, day, hour, minute] = /^(.+?),? (\d{1,2}):(\d{2})$/.exec(words) ?? [];
  if (!day || day.includes(':') || Number(hour) > 23 || Number(minute) > 59) return null;
  const noon = readDay(day, { zone, near, like: null, now, past });
  if (noon === null) return null;
  const shown = new Date(shownAt(Date.parse(noon), zone));
  const at = inZone(
    shown.getUTCFullYear(),
    shown.getUTCMonth() + 1,
    shown.getUTCDate(),
    Number(hour),
    Number(minute),
    zone,
  );
  return momentText(at);
}

/** Null: it lies beyond the years that a book takes. */
function momentText(at: number): string | null {
  const text = new Date(at).toISOString();
  return parseMoment(text) === null ? null : text;
}

function readWith(reader: DayReader, words: string, context: DayContext & { now: string }): number | null {
  const at = Date.parse(context.now);
  const reference = { instant: new Date(at), timezone: Math.round((shownAt(at, context.zone) - at) / 60_000) };
  const found = reader.parse(words, reference, { forwardDate: !context.past });
  const [first] = found;
  if (found.length !== 1 || !first || first.index !== 0 || first.text.length !== words.length || first.end) return null;
  const moment = momentOf(first.start, context);
  const last = context.past && !first.start.isCertain('day') && moment !== null && moment > at;
  return last ? moment - 7 * 86_400_000 : moment;
}

type Parts = ReturnType<DayReader['parse']>[number]['start'];

function momentOf(parts: Parts, { zone, near, like }: DayContext): number | null {
  if (!parts.isCertain('day') && !parts.isCertain('weekday')) return null;
  const [month, date] = [parts.get('month')!, parts.get('day')!];
  const [hour, minute] = parts.isCertain('hour') ? [parts.get('hour')!, parts.get('minute') ?? 0] : timeOf(like, zone);
  const spoken = !parts.isCertain('day') || parts.isCertain('year');
  const nearYear = new Date(near).getUTCFullYear();
  const years = spoken ? [parts.get('year')!] : [nearYear - 1, nearYear, nearYear + 1];
  const weekday = parts.isCertain('weekday') ? parts.get('weekday') : null;
  const moments = years.flatMap((year) => {
    const day = new Date(Date.UTC(year, month - 1, date));
    if (day.getUTCMonth() !== month - 1 || day.getUTCDate() !== date) return [];
    // "Friday 4 December" is the year in which it is one.
    if (weekday !== null && day.getUTCDay() !== weekday) return [];
    return [inZone(year, month, date, hour, minute, zone)];
  });
  const target = Date.parse(near);
  moments.sort((a, b) => Math.abs(a - target) - Math.abs(b - target));
  return moments[0] ?? null;
}

function timeOf(like: string | null | undefined, zone: string): [number, number] {
  if (!like) return [17, 0];
  const [hour, minute] = time(like, zone).split(':').map(Number);
  return [hour!, minute!];
}
