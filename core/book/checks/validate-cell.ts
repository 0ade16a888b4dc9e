import type { EntryContent } from '../change';
import { checkContent, CONTENT, isPlainContent } from './check-entries';
import { Problems } from './problems';
import { object, type Json } from './shapes';

/**
 * Why a cell that holds this could not be read again, as a plain sentence; null where it can. It is the same check that
 * a whole document goes through. `marks`: the labels that the item is scored in, null where it has no named marks.
 */
export function validateCell(content: EntryContent, marks: ReadonlySet<string> | null): string | null {
  const json = content as unknown as Json;
  if (isPlainContent(json, marks)) return null;
  const p = new Problems();
  if (object(p, '', json, CONTENT)) checkContent(p, '', json, marks);
  return p.listed[0]?.says ?? null;
}

/**
 * What of a cell can be read: all of it where it is sound, else each part that is sound by itself, each attempt with what
 * is sound in it.
 */
export function soundContent(content: EntryContent, marks: ReadonlySet<string> | null): EntryContent {
  if (validateCell(content, marks) === null) return content;
  const parts = (of: object): [string, unknown][] => Object.entries(of as Record<string, unknown>);
  const sound = (key: string, value: unknown): boolean => validateCell({ [key]: value }, marks) === null;
  const attempts = (content.attempts ?? []).map((a) =>
    Object.fromEntries(parts(a).filter(([key, value]) => sound('attempts', [{ [key]: value }]))),
  );
  const rest = parts(content).filter(([key, value]) => key !== 'attempts' && sound(key, value));
  const whole = { ...Object.fromEntries(rest), ...(attempts.length > 0 ? { attempts } : {}) } as EntryContent;
  // What is sound by itself may not go together: a score and a mark in one attempt.
  return validateCell(whole, marks) === null ? whole : (Object.fromEntries(rest) as EntryContent);
}
