import { Ajv, type ValidateFunction } from 'ajv';
import formatsModule from 'ajv-formats';
import type { PointedError } from '@contract/problem';
import type { TSchema } from '@contract/wire';

const addFormats = formatsModule as unknown as (ajv: Ajv, formats: string[]) => Ajv;

const ajv = new Ajv({ allErrors: false, strict: true, strictTypes: false });
addFormats(ajv, ['date', 'date-time']);
ajv.addKeyword({
  keyword: 'x-decimals',
  type: 'number',
  schemaType: 'number',
  validate: (decimals: number, value: number) => Math.round(value * 10 ** decimals) / 10 ** decimals === value,
});

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
  if (keyword === 'enum') return `must be one of ${(params['allowedValues'] as string[]).join(', ')}`;
  return message ?? 'is not sound';
}
