import type { NamedMark } from './document';

/** Sets of named marks that any book can use by name, without their being written into its rules first. */
export const BUILT_IN_MARKS: Readonly<Record<string, readonly NamedMark[]>> = {
  'done-or-not': [
    { label: 'Done', percent: 100 },
    { label: 'Not done', percent: 0 },
  ],
  'pass-or-fail': [
    { label: 'Pass', percent: 100 },
    { label: 'Fail', percent: 0 },
  ],
};
