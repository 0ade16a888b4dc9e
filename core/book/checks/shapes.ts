import { parseDate, parseMoment } from '../../time/moment';
import { pointer, type Problems } from './problems';

/** Readers for single values of a document. Each reports its own fault and gives back whether the value is sound. */
export type Json = Record<string, unknown>;

export const isObject = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);
export const has = (o: Json, key: string): boolean => Object.prototype.hasOwnProperty.call(o, key);

/** Checks that the value is an object with the required keys and no key outside of known (and `info`). */
export function object(
  p: Problems,
  at: string,
  v: unknown,
  known: readonly string[],
  required: readonly string[] = [],
): v is Json {
  if (!isObject(v)) {
    p.add(at, `Here an object is expected, not ${kind(v)}.`);
    return false;
  }
  for (const key of Object.keys(v))
    if (key !== 'info' && !known.includes(key)) p.add(pointer(at, key), `The key "${key}" is not known here.`);
  for (const key of required) if (!has(v, key)) p.add(at, `The key "${key}" is missing.`);
  return true;
}

export function list(p: Problems, at: string, v: unknown): v is unknown[] {
  if (Array.isArray(v)) return true;
  p.add(at, `Here a list is expected, not ${kind(v)}.`);
  return false;
}

export interface NumberLimits {
  whole?: boolean;
  negative?: boolean;
  above?: number;
  most?: number;
}

/** A number of the contract: at most four decimals, magnitude at most 10^9, not negative unless allowed. */
export function number(p: Problems, at: string, v: unknown, limits: NumberLimits = {}): v is number {
  const fault = numberFault(v, limits);
  if (fault === null) return true;
  p.add(at, fault);
  return false;
}

function numberFault(v: unknown, { whole, negative, above, most }: NumberLimits): string | null {
  if (typeof v !== 'number' || !Number.isFinite(v)) return `Here a number is expected, not ${kind(v)}.`;
  if (v < 0 && !negative) return `${v} is negative; this cannot be.`;
  if (Math.abs(v) > 1e9) return `${v} is too large: at most 1,000,000,000.`;
  if (Math.round(v * 10_000) / 10_000 !== v) return `${v} has more than four decimals.`;
  if (whole && !Number.isInteger(v)) return `${v} must be a whole number.`;
  if (above !== undefined && !(v > above)) return `${v} must be more than ${above}.`;
  if (most !== undefined && v > most) return `${v} is too much: at most ${most}.`;
  return null;
}

export function boolean(p: Problems, at: string, v: unknown): v is boolean {
  if (typeof v === 'boolean') return true;
  p.add(at, `Here true or false is expected, not ${kind(v)}.`);
  return false;
}

export function text(p: Problems, at: string, v: unknown): v is string {
  if (typeof v === 'string') return true;
  p.add(at, `Here a text is expected, not ${kind(v)}.`);
  return false;
}

export function choice(p: Problems, at: string, v: unknown, choices: readonly string[]): v is string {
  if (typeof v === 'string' && choices.includes(v)) return true;
  p.add(at, `${show(v)} is none of ${choices.map((c) => `"${c}"`).join(', ')}.`);
  return false;
}

export function id(p: Problems, at: string, v: unknown): v is string {
  if (v === 'info') {
    p.add(at, '"info" is no id: what stands under it is information.');
    return false;
  }
  if (typeof v === 'string' && /^[A-Za-z0-9._-]{1,64}$/.test(v)) return true;
  p.add(at, `${show(v)} is no id: 1 to 64 of the characters A-Z a-z 0-9 . _ -`);
  return false;
}

export function moment(p: Problems, at: string, v: unknown): v is string {
  if (typeof v === 'string' && parseMoment(v) !== null) return true;
  p.add(at, `${show(v)} is no moment such as 2027-01-15T12:00:00Z (with an offset, years 1900 to 2999).`);
  return false;
}

export function date(p: Problems, at: string, v: unknown): v is string {
  if (typeof v === 'string' && parseDate(v) !== null) return true;
  p.add(at, `${show(v)} is no date that exists, such as 2027-01-15.`);
  return false;
}

export function kind(v: unknown): string {
  if (v === null) return 'null';
  if (v === undefined) return 'nothing';
  if (Array.isArray(v)) return 'a list';
  if (typeof v === 'object') return 'an object';
  if (typeof v === 'string') return `the text ${show(v)}`;
  return `${typeof v} ${String(v)}`;
}

export function show(v: unknown): string {
  if (typeof v !== 'string') return kind(v);
  return JSON.stringify(v.length > 60 ? `${v.slice(0, 60)}…` : v);
}

/** Points [x, y] of a piecewise line, at least two, x strictly rising (contract, section 4). */
export function line(p: Problems, at: string, v: unknown): void {
  if (!list(p, at, v)) return;
  if (v.length < 2) p.add(at, 'A line needs at least two points.');
  rising(p, at, v, 'The x values of a line must rise strictly.');
}

/** Pairs of numbers of which the first rise strictly. */
export function rising(p: Problems, at: string, pairs: readonly unknown[], says: string): void {
  let before = -Infinity;
  pairs.forEach((pair, i) => {
    const here = pointer(at, i);
    if (!Array.isArray(pair) || pair.length !== 2) return p.add(here, 'Here a pair of two numbers is expected.');
    number(p, pointer(here, 1), pair[1]);
    if (!number(p, pointer(here, 0), pair[0])) return;
    if (pair[0] <= before) p.add(pointer(here, 0), says);
    before = pair[0];
  });
}
