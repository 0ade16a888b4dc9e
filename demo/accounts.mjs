// The accounts of the demo school that the start command prints. All people are invented.
/** The demo's moment, on a Tuesday: its clock stands still, so that pictures and tests are the same on every day. */
export const DEMO_CLOCK = '2026-11-24T09:00:00Z';

export const STAFF_PASSWORD = 'reedbed-2026';
export const OFFICE_PASSWORD = 'weir-house-2026';
export const STUDENT_PASSWORD = 'wellingtons-2026';

export const ACCOUNTS = [
  { login: 'aldous', password: STAFF_PASSWORD, who: 'R. Aldous, teacher of three books' },
  { login: 'brandvold', password: STAFF_PASSWORD, who: 'T. Brandvold, teacher of Soil Science 1' },
  { login: 'penhale', password: STAFF_PASSWORD, who: 'J. Penhale, co-teacher of Orchard Practice' },
  { login: 'quigg', password: STAFF_PASSWORD, who: 'M. Quigg, marker in Soil Science 1' },
  { login: 'halloran', password: OFFICE_PASSWORD, who: 'B. Halloran, administrator' },
  { login: 'farrelly', password: STUDENT_PASSWORD, who: 'Con Farrelly, student' },
  { login: 'achterberg', password: STUDENT_PASSWORD, who: 'Ruben Achterberg, student' },
];
