/**
 * The book document `last-tally.book/1` (contract, sections 1 to 8) as JSON Schema 2020-12: its shape. What one part
 * says of another (ids that must exist, bands that must rise) is more than a schema can say; {@link checkBook} does that.
 */
const amount = { type: 'number', minimum: 0, maximum: 1e9 };
const count = { type: 'integer', minimum: 0, maximum: 1e9 };
const hours = { type: 'number', minimum: 0, maximum: 10_000 };
const id = { type: 'string', pattern: '^(?!info$)[A-Za-z0-9._-]{1,64}$' };
const moment = {
  type: 'string',
  pattern: '^(19|2[0-9])\\d{2}-\\d{2}-\\d{2}[Tt]\\d{2}:\\d{2}:\\d{2}(\\.\\d{1,3})?([Zz]|[+-]\\d{2}:\\d{2})$',
};
const date = { type: 'string', pattern: '^\\d{4}-\\d{2}-\\d{2}$' };
const text = { type: 'string' };
const flag = { type: 'boolean' };
const name = { type: 'string' };
const maybe = (schema: { type: string }) => ({ ...schema, type: [schema.type, 'null'] });

function object(properties: Record<string, unknown>, required: string[] = []) {
  return {
    type: 'object',
    properties: { ...properties, info: { description: 'Anything; the calculation ignores it.' } },
    required,
    additionalProperties: false,
  };
}
const named = (schema: unknown) => ({
  type: 'object',
  properties: { info: {} },
  additionalProperties: schema,
});
const list = (items: unknown, more: Record<string, unknown> = {}) => ({ type: 'array', items, ...more });
const ref = (to: string) => ({ $ref: `#/$defs/${to}` });

const dates = { due: moment, closes: moment };
const lateCommon = {
  max: amount,
  afterCloses: amount,
  of: { enum: ['possible', 'earned'] },
  floor: amount,
  graceMinutes: amount,
  skipDays: list({ type: 'integer', minimum: 1, maximum: 7 }),
  skipDates: list(date),
};
const nodeCommon = {
  id,
  weight: amount,
  extraCredit: flag,
  alwaysKept: flag,
  late: maybe(name),
  blank: name,
};
const positive = { ...amount, exclusiveMinimum: 0 };
const rounding = { enum: ['half-up', 'half-even', 'down'] };
const pairs = (least: number) => list({ type: 'array', items: amount, minItems: 2, maxItems: 2 }, { minItems: least });
const line = pairs(2);
/** Of these keys at most one. */
const atMostOne = (...keys: string[]) => ({
  not: { anyOf: keys.flatMap((a, i) => keys.slice(i + 1).map((b) => ({ required: [a, b] }))) },
});
const then = {
  oneOf: [
    { type: 'null' },
    object({ step: positive, mode: rounding }, ['step', 'mode']),
    object({ through: line }, ['through']),
    object({ steps: pairs(1) }, ['steps']),
  ],
};
const hurdle = {
  oneOf: [
    object(
      {
        node: id,
        atLeast: { oneOf: [amount, { const: 'handed-in' }] },
        capAt: { oneOf: [amount, object({ node: id }, ['node']), object({ letter: text }, ['letter'])] },
      },
      ['node', 'atLeast', 'capAt'],
    ),
    object({ node: id, atLeast: { oneOf: [amount, { const: 'handed-in' }] }, letter: text }, [
      'node',
      'atLeast',
      'letter',
    ]),
    object(
      {
        node: id,
        over: amount,
        each: positive,
        takes: { oneOf: [object({ percent: amount }, ['percent']), object({ letters: count }, ['letters'])] },
        most: count,
      },
      ['node', 'over', 'each', 'takes'],
    ),
  ],
};
const curve = {
  oneOf: [
    { type: 'null' },
    object({ kind: { const: 'add' }, points: { type: 'number', minimum: -1e9, maximum: 1e9 } }, ['kind', 'points']),
    object({ kind: { const: 'top' }, at: { type: 'number', exclusiveMinimum: 0, maximum: 1e9 } }, ['kind', 'at']),
    object({ kind: { const: 'line' }, through: line }, ['kind', 'through']),
  ],
};

export const bookSchema = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  $id: 'last-tally.book/1',
  title: 'A book: rules, students and what they have',
  description: 'Numbers have at most 4 decimals. Percents are written 0 to 100 and up.',
  ...object(
    {
      format: { const: 'last-tally.book/1' },
      timeZone: { type: 'string', description: 'An IANA name.' },
      asOf: moment,
      closing: flag,
      lateAllowanceHours: hours,
      rules: object({
        late: named(ref('late')),
        blank: named(ref('blank')),
        marks: named(list(ref('mark'))),
        scales: named(ref('scale')),
      }),
      blank: name,
      late: maybe(name),
      scale: maybe(name),
      rounding: object({ decimals: { type: 'integer', minimum: 0, maximum: 4 }, mode: rounding }, ['decimals', 'mode']),
      tree: ref('group'),
      hurdles: list(hurdle),
      variants: named(object({ weights: named(amount), leftOut: list(id), scale: maybe(name) })),
      shown: object(
        {
          through: line,
          decimals: { type: 'integer', minimum: 0, maximum: 4 },
          mode: rounding,
          step: positive,
          label: text,
        },
        ['through', 'decimals', 'mode'],
      ),
      students: list(object({ id, section: id, extraTimeHours: hours, variant: name }, ['id'])),
      entries: list(ref('entry')),
      overrides: list({
        ...object({ student: id, percent: amount, letter: text, reason: text }, ['student']),
        anyOf: [{ required: ['percent'] }, { required: ['letter'] }],
      }),
    },
    ['format', 'timeZone', 'asOf', 'blank', 'rounding', 'tree', 'students', 'entries'],
  ),
  $defs: {
    late: {
      oneOf: [
        object(
          {
            unit: { enum: ['hour', 'day'] },
            deduct: amount,
            bank: object({ units: count, perItem: count }, ['units']),
            ...lateCommon,
          },
          ['unit', 'deduct'],
        ),
        object(
          {
            steps: list(object({ hours: amount, deduct: amount }, ['hours', 'deduct']), { minItems: 1 }),
            after: amount,
            ...lateCommon,
          },
          ['steps', 'after'],
        ),
      ],
    },
    blank: object(
      {
        beforeDue: { enum: ['skip', 'zero'] },
        afterDue: { oneOf: [{ const: 'skip' }, object({ percent: amount }, ['percent'])] },
        missingAfter: { enum: ['due', 'closes'] },
      },
      ['beforeDue', 'afterDue'],
    ),
    mark: object({ label: text, percent: amount }, ['label', 'percent']),
    scale: object(
      {
        bands: list(object({ label: text, from: amount }, ['label', 'from']), { minItems: 1 }),
        lookUp: { enum: ['rounded', 'exact'] },
      },
      ['bands'],
    ),
    group: object(
      {
        ...nodeCommon,
        type: { const: 'group' },
        combine: { enum: ['points', 'weights', 'equal', 'median', 'decaying'] },
        newest: { ...positive, maximum: 100 },
        extraAtMost: amount,
        then,
        drop: object({ lowest: count, highest: count }),
        keepBest: { ...count, minimum: 1 },
        whenEmpty: { enum: ['skip', 'zero'] },
        cap: maybe(amount),
        floor: maybe(amount),
        children: list({ oneOf: [ref('group'), ref('item'), ref('also')] }),
      },
      ['id', 'type', 'combine', 'children'],
    ),
    item: object(
      {
        ...nodeCommon,
        ...dates,
        type: { const: 'item' },
        points: amount,
        counts: flag,
        sectionDates: named({ ...object(dates), anyOf: [{ required: ['due'] }, { required: ['closes'] }] }),
        marks: maybe(name),
        attempts: object({
          use: { enum: ['best', 'latest', 'first', 'mean', 'decaying', 'regain'] },
          retakeCap: { oneOf: [amount, { type: 'array', items: amount, minItems: 1 }] },
          newest: { ...amount, exclusiveMinimum: 0, maximum: 100 },
          regain: { ...amount, maximum: 100 },
        }),
        curve,
      },
      ['id', 'type', 'points'],
    ),
    also: {
      ...object(
        {
          id,
          type: { const: 'also' },
          of: id,
          weight: amount,
          points: positive,
          extraCredit: flag,
          alwaysKept: flag,
          standsIn: flag,
          through: line,
          from: amount,
          reaching: amount,
        },
        ['id', 'type', 'of'],
      ),
      ...atMostOne('through', 'from', 'reaching'),
    },
    entry: object(
      {
        student: id,
        item: id,
        state: { enum: ['excused', 'missing', 'awaiting'] },
        attempts: list({
          ...object({ score: amount, mark: text, receivedAt: moment, onTime: flag, lateUnits: count }),
          not: { required: ['score', 'mark'] },
        }),
        dueAt: moment,
        closesAt: moment,
        lateAllowances: { ...count, maximum: 1000 },
        set: amount,
        protected: flag,
      },
      ['student', 'item'],
    ),
  },
};
