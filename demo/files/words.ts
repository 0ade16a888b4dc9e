import type { Random } from '../random';

/** Sentences of made-up field work, put together by chance: enough for a page that can be read. */
const BEGINS = ['At the first station', 'Along the ditch', 'Under the hawthorn', 'In the lower plot', 'After the rain of the night', 'At forty centimetres', 'By the old sluice', 'On the north face', 'Between the rows', 'At the edge of the reeds']; // prettier-ignore
const SAW = ['the soil was darker than the day before', 'two layers could be told apart by hand', 'the water stood a hand below the surface', 'we counted eleven stems to the square', 'the probe met a stone and was set anew', 'roots went down further than the sketch shows', 'the sample crumbled and left no ribbon', 'a smell of iron came with the water', 'the leaves were spotted on one side alone', 'the reading settled after three minutes']; // prettier-ignore
const MEANS = ['which fits what the map says', 'which I had not expected', 'and the second reading agreed within a tenth', 'so the plot was measured once more', 'as in the sheet of last week', 'and this is why the table has a gap there', 'which speaks for an older bank', 'though the light was poor by then']; // prettier-ignore

export const sentence = (random: Random): string =>
  `${random.pick(BEGINS)} ${random.pick(SAW)}, ${random.pick(MEANS)}.`;

export const paragraph = (random: Random, sentences = 5): string =>
  Array.from({ length: sentences }, () => sentence(random)).join(' ');

/** A table of readings: heads, and rows of figures. */
export function readings(random: Random, rows = 8): string[][] {
  const figure = (most: number, digits: number): string => (random.next() * most).toFixed(digits);
  return [
    ['station', 'depth cm', 'pH', 'moisture %'],
    ...Array.from({ length: rows }, (_, n) => [
      `S${n + 1}`,
      String(10 + 10 * Math.floor(random.next() * 7)),
      (4.2 + random.next() * 3.4).toFixed(1),
      figure(60, 1),
    ]),
  ];
}
