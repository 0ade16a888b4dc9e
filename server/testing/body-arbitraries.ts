import fc from 'fast-check';
import type { TSchema } from '@contract/wire';
import { newOperation } from '@contract/wire/operation';
import { RULES } from './school';

/** What of JSON Schema the contract is written in. */
interface Schema {
  type?: string;
  anyOf?: Schema[];
  const?: unknown;
  enum?: unknown[];
  pattern?: string;
  format?: string;
  minLength?: number;
  maxLength?: number;
  minimum?: number;
  maximum?: number;
  items?: Schema | Schema[];
  minItems?: number;
  maxItems?: number;
  uniqueItems?: boolean;
  properties?: Record<string, Schema>;
  required?: string[];
  patternProperties?: Record<string, Schema>;
  additionalProperties?: boolean | Schema;
}

const ID = '^[A-Za-z0-9._-]{1,64}$';
const NOT_BLANK = '\\S';
const OPERATION = '^[A-Za-z0-9-]{8,64}$';

/** Texts that other programs trip over. */
export const ODD = [
  '',
  ' ',
  '\u0000',
  'a\u0000b',
  '\ud800',
  '💡',
  '=1+1',
  "'; drop table book; --",
  '${x}',
  '__proto__',
  'constructor',
];
const MOMENTS = [
  '2026-11-24T09:00:00Z',
  '2026-10-10T18:30:00.250+02:00',
  '1900-01-01T00:00:00Z',
  '2999-12-31T23:59:59Z',
  '1900-01-01T00:00:00-00:30',
  '2999-12-31T23:59:59+12:00',
];
const DATES = ['2026-11-24', '2026-02-28', '0001-01-01', '9999-12-31'];
const ANYTHING = [RULES, {}, [], null, 1, 'x', { tree: {} }, { ...RULES, tree: { id: 'all', type: 'group' } }];

/** Bodies that a schema takes, with ids of what is there among them, and with what is odd. */
export function bodiesOf(schema: TSchema, ids: readonly string[]): fc.Arbitrary<unknown> {
  const any = (s: Schema): fc.Arbitrary<unknown> => {
    if (s.anyOf) return fc.oneof(...s.anyOf.map(any));
    if ('const' in s) return fc.constant(s.const);
    if (s.enum) return fc.constantFrom(...s.enum);
    switch (s.type) {
      case 'string':
        return text(s);
      case 'integer':
      case 'number':
        return amount(s);
      case 'boolean':
        return fc.boolean();
      case 'null':
        return fc.constant(null);
      case 'array': {
        if (Array.isArray(s.items)) return fc.tuple(...s.items.map(any));
        const least = s.minItems ?? 0;
        return (s.uniqueItems ? fc.uniqueArray : fc.array)(any(s.items ?? {}), { minLength: least, maxLength: Math.min(s.maxItems ?? 3, least + 3) }); // prettier-ignore
      }
      case 'object':
        return object(s);
      default:
        return fc.constantFrom(...ANYTHING);
    }
  };
  const text = (s: Schema): fc.Arbitrary<string> => {
    if (s.pattern === ID) return fc.constantFrom(...ids, 'nothing', '__proto__', 'constructor', 'x'.repeat(64));
    if (s.pattern === OPERATION) return fc.nat().map(() => newOperation());
    if (s.pattern && s.pattern !== NOT_BLANK) return fc.stringMatching(new RegExp(s.pattern));
    if (s.format === 'date-time') return fc.constantFrom(...MOMENTS);
    if (s.format === 'date') return fc.constantFrom(...DATES);
    const [least, most] = [s.minLength ?? 0, s.maxLength ?? 40];
    const fits = (t: string): boolean =>
      [...t].length >= least && [...t].length <= most && (s.pattern === undefined || /\S/.test(t));
    const odd = ODD.filter(fits);
    const plain = fc.string({ minLength: least, maxLength: Math.min(most, 40), unit: 'binary' }).filter(fits);
    return odd.length > 0 ? fc.oneof({ weight: 3, arbitrary: plain }, fc.constantFrom(...odd)) : plain;
  };
  const amount = (s: Schema): fc.Arbitrary<number> => {
    const [least, most] = [s.minimum ?? -10, s.maximum ?? 1e9];
    const figures = [least, most, 0, 1, 2, 3, 12, 100].filter((n) => n >= least && n <= most);
    return fc.constantFrom(...figures, ...(s.type === 'number' && least <= 0.0001 ? [0.0001, 0.5] : []));
  };
  const object = (s: Schema): fc.Arbitrary<unknown> => {
    const entries = Object.entries(s.properties ?? {});
    const values = s.patternProperties
      ? Object.values(s.patternProperties)[0]
      : typeof s.additionalProperties === 'object'
        ? s.additionalProperties
        : undefined;
    if (entries.length === 0 && values) return fc.dictionary(fc.constantFrom(...ids, 'x'), any(values), { maxKeys: 3 });
    if (entries.length === 0 && s.additionalProperties === false) return fc.constant({});
    if (entries.length === 0)
      return fc.constantFrom(...ANYTHING.filter((v) => v !== null && typeof v === 'object' && !Array.isArray(v)));
    return fc.record(Object.fromEntries(entries.map(([k, v]) => [k, any(v)])), { requiredKeys: s.required ?? [] });
  };
  return any(schema as Schema);
}
