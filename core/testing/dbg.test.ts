import { it } from 'vitest';
import { randomPolicyBook } from './random-policies';
import { plainResult } from './reference';
import { compileBook } from '../calculation/compile';
import { standingsOf, standingAt } from '../estimate/standings';
it('x', () => {
  const seed = Number(process.env['SEED']);
  const book = randomPolicyBook(seed);
  const want = plainResult(book);
  const compiled = compileBook(book);
  const st = standingsOf(compiled);
  want.students.forEach(({ percent, letter, low, high, shown = null, exact }, s) => console.log(JSON.stringify({ percent, letter, low, high, shown, exact }), JSON.stringify(standingAt(st, s))));
  console.log(JSON.stringify(book.hurdles), JSON.stringify(book.shown), JSON.stringify(book.rounding), JSON.stringify(book.variants));
});
