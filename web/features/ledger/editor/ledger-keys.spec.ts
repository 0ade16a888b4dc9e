import { LEDGER_KEYS, spotAfter, stepOf } from './ledger-keys';

const size = { rows: 21, columns: 10, page: 15 };
const step = (key: string, more: object = {}) =>
  stepOf({ key, ctrlKey: false, altKey: false, metaKey: false, ...more }, { row: 5, col: 3 }, size);

describe('the keys of the ledger', () => {
  it.each([
    ['ArrowDown', {}, { row: 6, col: 3 }],
    ['ArrowLeft', {}, { row: 5, col: 2 }],
    ['PageUp', {}, { row: -10, col: 3 }],
    ['Home', {}, { row: 5, col: 0 }],
    ['Home', { ctrlKey: true }, { row: 0, col: 0 }],
    ['End', {}, { row: 5, col: 10 }],
    ['End', { ctrlKey: true }, { row: 20, col: 10 }],
    ['ArrowLeft', { altKey: true }, null],
    ['7', {}, null],
  ])('%s %j', (key, more, to) => expect(step(key, more)).toEqual(to));

  it.each([
    ['stay', { row: 5, col: 3 }],
    ['down', { row: 6, col: 3 }],
    ['up', { row: 4, col: 3 }],
    ['right', { row: 5, col: 4 }],
    ['left', { row: 5, col: 2 }],
  ] as const)('lead %s after an entry', (step, to) => expect(spotAfter(step, { row: 5, col: 3 })).toEqual(to));

  it('stand on the sheet once each', () =>
    expect(new Set(LEDGER_KEYS.map((k) => k.key)).size).toBe(LEDGER_KEYS.length));
});
