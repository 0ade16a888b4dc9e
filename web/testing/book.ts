import type { BookPage, Sheet } from '@contract/books';

/** A book of two students and two assessments as the server gives it. */
export function testSheet(): Sheet {
  return {
    seq: 3,
    document: {
      format: 'last-tally.book/1',
      timeZone: 'Europe/Dublin',
      asOf: '2026-11-24T09:00:00Z',
      rules: {
        late: { steady: { unit: 'day', deduct: 10, max: 50 } },
        blank: { usual: { beforeDue: 'skip', afterDue: { percent: 0 } } },
        scales: {
          letters: {
            bands: [
              { label: 'A', from: 80 },
              { label: 'F', from: 0 },
            ],
          },
        },
      },
      blank: 'usual',
      late: 'steady',
      scale: 'letters',
      rounding: { decimals: 1, mode: 'half-up' },
      tree: {
        id: 'all',
        type: 'group',
        combine: 'weights',
        children: [
          {
            id: 'work',
            type: 'group',
            combine: 'points',
            weight: 100,
            info: { title: 'Field work' },
            children: [
              { id: 'moss', type: 'item', points: 20, due: '2026-10-10T16:00:00Z' },
              { id: 'reed', type: 'item', points: 10, due: '2026-12-10T16:00:00Z' },
            ],
          },
        ],
      },
      students: [{ id: 's1' }, { id: 's2' }],
      entries: [
        { student: 's1', item: 'moss', attempts: [{ score: 16 }] },
        { student: 's2', item: 'moss', attempts: [{ score: 10, lateUnits: 2 }] },
      ],
    },
    versions: [4, 1],
    releaseStates: [1, 0],
  };
}

export function testPage(): BookPage {
  const student = { given: '', number: '', mail: '', section: null, left: false, extraTimeHours: 0 };
  const assessment = {
    category: 'work',
    closes: null,
    marks: [],
    extraCredit: false,
    counts: true,
    takesWork: true,
    rubric: false,
    namesHidden: false,
    version: 1,
  };
  return {
    id: 'fens',
    title: 'Fens',
    term: 'Autumn',
    variants: [],
    timeZone: 'Europe/Dublin',
    asOf: '2026-11-24T09:00:00Z',
    seq: 3,
    role: 'teacher',
    showsStanding: false,
    archived: false,
    wantsReasons: false,
    statement: null,
    schoolStatement: '',
    hidesNames: null,
    schoolHidesNames: false,
    sections: [],
    staff: [],
    students: [
      { ...student, id: 's1', family: 'Adler' },
      { ...student, id: 's2', family: 'Birch' },
    ],
    assessments: [
      { ...assessment, id: 'moss', title: 'Moss', points: 20, due: '2026-10-10T16:00:00Z' },
      { ...assessment, id: 'reed', title: 'Reed', points: 10, due: '2026-12-10T16:00:00Z' },
    ],
    rulesVersion: 1,
    readers: [],
  };
}
