import type { RulesPart } from '@core/book/change';
import type { Group, LateRule, RuleSets, Scale } from '@core/book/document';
import type { DemoBook } from './demo-book';
import { SOIL_PIT } from './rubrics';

const category = (id: string, title: string, weight: number, more: Partial<Group>): Group => ({
  id,
  type: 'group',
  combine: 'points',
  weight,
  children: [],
  info: { title },
  ...more,
});

const LATE: LateRule = { unit: 'day', deduct: 10, max: 50, of: 'possible', floor: 0, graceMinutes: 15 };
const LETTERS: Scale = {
  bands: [
    { label: 'A', from: 85 },
    { label: 'B', from: 70 },
    { label: 'C', from: 55 },
    { label: 'D', from: 45 },
    { label: 'F', from: 0 },
  ],
  lookUp: 'rounded',
};

/** Rules by name, as the office of the college keeps them and its books have them. */
export const RULE_SETS: RuleSets = {
  late: { steady: LATE },
  blank: { usual: { beforeDue: 'skip', afterDue: { percent: 0 } } },
  scales: { letters: LETTERS },
};

const rules = (categories: Group[], more: Partial<RulesPart> = {}): RulesPart => ({
  rules: RULE_SETS,
  blank: 'usual',
  late: 'steady',
  scale: 'letters',
  rounding: { decimals: 1, mode: 'half-up' },
  tree: { id: 'all', type: 'group', combine: 'weights', children: categories },
  ...more,
});

/** What students tick, in the college's words. */
const OWN_WORK = 'All of it comes from me; what is somebody else’s is named.';

const NO_LATE = { late: null };

export const BOOKS: DemoBook[] = [
  {
    id: 'wetland-survey-methods',
    title: 'Wetland Survey Methods',
    sections: [
      { id: 'north', title: 'North' },
      { id: 'south', title: 'South' },
    ],
    staff: [{ login: 'aldous', role: 'teacher' }],
    showsStanding: true,
    students: [0, 21],
    rules: rules(
      [
        category('notebooks', 'Field notebooks', 30, { drop: { lowest: 1 } }),
        category('practicals', 'Practicals', 25, { combine: 'equal' }),
        category('checks', 'Checks', 15, NO_LATE),
        category('final', 'Final', 30, {}),
      ],
      { hurdles: [{ node: 'final', atLeast: 40, capAt: 44 }] },
    ),
    assessments: [
      { id: 'peat-core', title: 'Peat core', category: 'notebooks', points: 20, due: '10-02T17:00', phase: 'released' },
      {
        id: 'hedge-survey',
        title: 'Hedge survey',
        category: 'notebooks',
        points: 20,
        due: '10-16T17:00',
        phase: 'released',
      },
      {
        id: 'pond-transect',
        title: 'Pond transect',
        category: 'notebooks',
        points: 20,
        due: '10-30T17:00',
        phase: 'released',
        feedback: { comment: 'The water stood 12 cm higher than in my sketch: nobody lost anything by that.' },
      },
      {
        id: 'soil-pit',
        title: 'Soil pit',
        category: 'notebooks',
        points: 20,
        due: '11-12T17:00',
        phase: 'marking',
        work: { attempts: 2, statement: OWN_WORK },
        rubric: SOIL_PIT,
      },
      { id: 'ph-bench', title: 'pH bench', category: 'practicals', points: 10, due: '10-09T17:00', phase: 'released' },
      {
        id: 'texture',
        title: 'Texture by hand',
        category: 'practicals',
        points: 10,
        due: '10-23T17:00',
        phase: 'released',
      },
      {
        id: 'level-staff',
        title: 'Level & staff',
        category: 'practicals',
        points: 25,
        due: '11-20T17:00',
        phase: 'draft',
      },
      { id: 'check-1', title: 'Check 1', category: 'checks', points: 12, due: '10-12T10:00', phase: 'released' },
      { id: 'check-2', title: 'Check 2', category: 'checks', points: 12, due: '11-09T10:00', phase: 'released' },
      {
        id: 'report',
        title: 'Report',
        category: 'final',
        points: 100,
        due: '12-11T17:00',
        phase: 'open',
        work: { attempts: 3, statement: OWN_WORK },
      },
    ],
  },
  {
    id: 'orchard-practice',
    title: 'Orchard Practice',
    sections: [{ id: 'day', title: 'Day group' }],
    staff: [
      { login: 'aldous', role: 'teacher' },
      { login: 'penhale', role: 'co-teacher' },
    ],
    showsStanding: false,
    departs: {
      rules: { lateAllowanceHours: 48 },
      reason: 'Pruning waits for dry days: one day of grace is often a wet one',
    },
    students: [9, 27],
    rules: rules([
      category('diaries', 'Pruning diaries', 40, {}),
      category('practicals', 'Orchard practicals', 35, { combine: 'equal' }),
      category('plan', 'Orchard plan', 25, {}),
    ]),
    assessments: [
      {
        id: 'diary-1',
        title: 'Pruning diary 1',
        category: 'diaries',
        points: 20,
        due: '10-14T17:00',
        phase: 'released',
      },
      {
        id: 'diary-2',
        title: 'Pruning diary 2',
        category: 'diaries',
        points: 20,
        due: '11-20T17:00',
        phase: 'marking',
        work: {},
      },
      {
        id: 'diary-3',
        title: 'Pruning diary 3',
        category: 'diaries',
        points: 20,
        due: '12-14T17:00',
        phase: 'open',
        work: {},
      },
      {
        id: 'grafting',
        title: 'Whip grafting',
        category: 'practicals',
        points: 15,
        due: '10-21T16:00',
        phase: 'released',
      },
      {
        id: 'calibration',
        title: 'Sprayer calibration',
        category: 'practicals',
        points: 10,
        due: '11-04T16:00',
        phase: 'released',
      },
      {
        id: 'rootstock',
        title: 'Rootstock ID',
        category: 'practicals',
        points: 24,
        due: '11-18T16:00',
        phase: 'draft',
      },
      {
        id: 'harvest-log',
        title: 'Harvest log',
        category: 'practicals',
        points: 10,
        due: '10-30T17:00',
        phase: 'released',
        more: { extraCredit: true },
      },
      { id: 'orchard-plan', title: 'Orchard plan', category: 'plan', points: 50, due: '12-16T17:00', phase: 'open' },
    ],
  },
  {
    id: 'soil-science-1',
    title: 'Soil Science 1',
    sections: [
      { id: 'a', title: 'Lab A' },
      { id: 'b', title: 'Lab B' },
      { id: 'c', title: 'Lab C' },
    ],
    staff: [
      { login: 'brandvold', role: 'teacher' },
      { login: 'aldous', role: 'co-teacher' },
      { login: 'quigg', role: 'marker' },
    ],
    showsStanding: false,
    students: [0, 120],
    rules: rules([
      category('sheets', 'Lab sheets', 40, { drop: { lowest: 1 }, combine: 'equal' }),
      category('checks', 'Checks', 20, NO_LATE),
      category('tests', 'Tests', 40, { combine: 'weights', ...NO_LATE }),
    ]),
    assessments: [
      { id: 'sheet-1', title: 'Lab sheet 1', category: 'sheets', points: 10, due: '09-28T17:00', phase: 'released' },
      { id: 'sheet-2', title: 'Lab sheet 2', category: 'sheets', points: 10, due: '10-12T17:00', phase: 'released' },
      { id: 'sheet-3', title: 'Lab sheet 3', category: 'sheets', points: 10, due: '10-26T17:00', phase: 'released' },
      {
        id: 'sheet-4',
        title: 'Lab sheet 4',
        category: 'sheets',
        points: 10,
        due: '11-09T17:00',
        phase: 'released',
        work: {},
      },
      {
        id: 'sheet-5',
        title: 'Lab sheet 5',
        category: 'sheets',
        points: 10,
        due: '11-20T17:00',
        phase: 'marking',
        work: { attempts: 2, hears: 'late' },
      },
      {
        id: 'sheet-6',
        title: 'Lab sheet 6',
        category: 'sheets',
        points: 10,
        due: '12-07T17:00',
        phase: 'open',
        work: { attempts: 2 },
      },
      { id: 'check-1', title: 'Check 1', category: 'checks', points: 15, due: '10-05T10:00', phase: 'released' },
      { id: 'check-2', title: 'Check 2', category: 'checks', points: 15, due: '10-19T10:00', phase: 'released' },
      { id: 'check-3', title: 'Check 3', category: 'checks', points: 15, due: '11-16T10:00', phase: 'draft' },
      {
        id: 'test-1',
        title: 'Mid-term test',
        category: 'tests',
        points: 60,
        due: '11-02T10:00',
        phase: 'released',
        more: { weight: 40 },
      },
      {
        id: 'test-2',
        title: 'Final test',
        category: 'tests',
        points: 100,
        due: '12-15T10:00',
        phase: 'open',
        more: { weight: 60 },
      },
    ],
  },
];
