/** The result document `last-tally.result/1` (contract, section 9) as JSON Schema 2020-12. */
const figure = { type: ['string', 'null'], pattern: '^\\d+(\\.\\d{1,4})?$' };
const fraction = { type: ['string', 'null'], pattern: '^\\d+(/[1-9]\\d*)?$' };

export const resultSchema = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  $id: 'last-tally.result/1',
  title: 'A book worked out',
  type: 'object',
  required: ['format', 'students'],
  additionalProperties: false,
  properties: {
    format: { const: 'last-tally.result/1' },
    students: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'percent', 'exact', 'letter', 'low', 'high', 'items', 'groups'],
        additionalProperties: false,
        properties: {
          id: { type: 'string' },
          percent: { ...figure, description: 'The final percentage, rounded; null: no grade yet.' },
          exact: { ...fraction, description: 'The same before rounding, a reduced fraction.' },
          letter: { type: ['string', 'null'] },
          low: { ...figure, description: 'With nothing more on all that is open.' },
          high: { ...figure, description: 'With full points on all that is open.' },
          items: {
            type: 'array',
            items: {
              type: 'object',
              required: ['id', 'state', 'earned', 'dropped'],
              additionalProperties: false,
              properties: {
                id: { type: 'string' },
                state: { enum: ['excused', 'set', 'scored', 'pending', 'missing', 'awaiting', 'blank', 'left-out'] },
                earned: { ...fraction, description: 'Points; null where the item is skipped.' },
                dropped: { type: 'boolean' },
              },
            },
          },
          groups: {
            type: 'array',
            items: {
              type: 'object',
              required: ['id', 'exact'],
              additionalProperties: false,
              properties: { id: { type: 'string' }, exact: { ...fraction, description: 'Percent; null: skipped.' } },
            },
          },
          alsos: {
            type: 'array',
            description: 'There only where the tree has any.',
            items: {
              type: 'object',
              required: ['id', 'exact', 'dropped'],
              additionalProperties: false,
              properties: {
                id: { type: 'string' },
                exact: { ...fraction, description: 'Percent, after its line; null: skipped.' },
                dropped: { type: 'boolean' },
              },
            },
          },
          shown: { ...figure, description: 'On the scale that the book shows it on; there only where it has one.' },
        },
      },
    },
  },
} as const;
