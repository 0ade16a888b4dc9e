import { parseMoment } from '@core/time/moment';
import { Ajv, type ValidateFunction } from 'ajv';
import formatsModule from 'ajv-formats';
import type { PointedError } from '@contract/wire/problem';
import type { TSchema } from '@contract/wire';

const addFormats = formatsModule as unknown as (ajv: Ajv, formats: string[]) => Ajv;

const ajv = new Ajv({ allErrors: false, strict: true, strictTypes: false });
addFormats(ajv, ['date']);
// The calculation's own: what it could not read again is refused at the door.
ajv.addFormat('date-time', (text: string) => {
  const millis = parseMoment(text);
  return millis !== null && parseMoment(new Date(millis).toISOString()) !== null;
});
ajv.addKeyword({
  keyword: 'x-decimals',
  type: 'number',
  schemaType: 'number',
  validate: (decimals: number, value: number) => Math.round(value * 10 ** decimals) / 10 ** decimals === value,
});

// What words a text holds, where it is not free text: said of formats of the journal, and checked by nothing here.
ajv.addKeyword({ keyword: 'x-words', schemaType: 'string' });

const compiled = new WeakMap<object, ValidateFunction>();

/** What is wrong with a value against a schema, with JSON pointers; empty where it is sound. Schemas compile on first use. */
export function validationErrors(schema: TSchema, value: unknown): PointedError[] {
  let check = compiled.get(schema);
  if (!check) compiled.set(schema, (check = ajv.compile(schema)));
  if (check(value)) return [];
  return (check.errors ?? [])
    .slice(0, 20)
    .map((e) => ({ pointer: e.instancePath, detail: sentence(e.keyword, e.params, e.message) }));
}

function sentence(keyword: string, params: Record<string, unknown>, message: string | undefined): string {
  if (keyword === 'x-decimals') return 'at most four decimals are kept';
  if (keyword === 'required') return `“${String(params['missingProperty'])}” is missing`;
  if (keyword === 'additionalProperties') return `“${String(params['additionalProperty'])}” is not known here`;
  if (keyword === 'pattern' && params['pattern'] === '\\S') return 'must not be empty';
  if (keyword === 'format' && params['format'] === 'date-time')
    return 'must be a moment of the years 1900 to 2999, such as 2027-01-15T12:00:00Z';
  if (keyword === 'enum') return `must be one of ${(params['allowedValues'] as string[]).join(', ')}`;
  return message ?? 'is not sound';
}
