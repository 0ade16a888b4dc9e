import type { Draft } from '../draft';
import type { WordPiece } from './sentence';

/** The name of a named rule, scale or variant, told apart from all of its kind. */
export const nameWord = (
  kind: 'rule' | 'scale' | 'variant',
  name: string,
  all: readonly string[],
  rename: (to: string) => Draft,
  label = `Name of the ${kind} ${name}`,
): WordPiece => ({
  kind: 'word',
  label,
  value: name,
  set: (text) =>
    text === '' || text.length > 60 || text === 'info' || text.startsWith('*')
      ? { message: `A ${kind} has a name of 1 to 60 letters.` }
      : text !== name && all.includes(text)
        ? { message: `There is a ${kind} “${text}” already.` }
        : rename(text),
});
