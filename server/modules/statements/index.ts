export { releasedTogether } from './sql/releases';
export { titleOf } from './student-statement';
