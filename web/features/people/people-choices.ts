import { optionsOf } from '../../ui/form/choice';

interface Option {
  value: string;
  text: string;
}

/** What somebody of the staff is in a book. */
export const ROLES: Option[] = [
  ...['teacher', 'co-teacher', 'marker', 'reviewer'].map((role) => ({ value: role, text: role })),
  { value: '', text: 'off this book' },
];

/** By what the students that are picked are worked out: `=` and a variant, or `*` as their section. */
export const variantMovesOf = (variants: readonly string[]): Option[] => [
  { value: '', text: 'by a variant …' },
  ...variants.map((name) => ({ value: `=${name}`, text: name })),
  { value: '*', text: 'as their section' },
];

export const sectionVariantsOf = (variants: readonly string[]): Option[] => [
  { value: '', text: 'as everybody' },
  ...variants.map((name) => ({ value: name, text: name })),
];

/** Where the students that are picked may go; `*`: into no section. */
export const sectionMovesOf = (sections: readonly { id: string; title: string }[]): Option[] => [
  ...optionsOf(sections, 'move to …'),
  { value: '*', text: 'no section' },
];
