/** What no text can be kept with: NUL, and half of a character. They come with what is pasted; nobody types them. */
const UNSTORABLE = /\0|\p{Cs}/gu;

/** A text as it can be kept. */
export const storable = (text: string): string => text.replace(UNSTORABLE, '');

/** JSON of a value whose texts can all be kept; written by its number such a character is easily found. */
export function storableJson(value: unknown): string {
  const json = JSON.stringify(value);
  if (!/\\u(?:0000|d[89a-f])/.test(json)) return json;
  return JSON.stringify(value, (_key, v: unknown) => (typeof v === 'string' ? storable(v) : v));
}
