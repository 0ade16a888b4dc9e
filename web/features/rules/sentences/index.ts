import type { Part } from './sentence';
import { AGAIN } from './again';
import { ATTEMPTS } from './attempts';
import { BLANKS } from './blanks';
import { CURVES } from './curves/curves';
import { DROPS } from './drops';
import { EXTRA } from './extra';
import { HURDLES } from './hurdles';
import { LATENESS } from './lateness';
import { LETTERS, ROUNDING } from './letters/letters';
import { MARKS } from './marks';
import { THEN } from './then';
import { VARIANTS } from './variants';
import { WEIGHTS } from './weights';

/** The page's parts in their order. Between them they say everything that the contract lets a book's rules be. */
export const PARTS: readonly Part[] = [
  WEIGHTS,
  BLANKS,
  LATENESS,
  ATTEMPTS,
  DROPS,
  EXTRA,
  AGAIN,
  THEN,
  CURVES,
  MARKS,
  ROUNDING,
  LETTERS,
  HURDLES,
  VARIANTS,
];
