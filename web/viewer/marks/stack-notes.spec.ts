import { stackNotes } from './stack-notes';

const note = (id: string, top: number, height = 20) => ({ id, top, height });

describe('notes in the margin', () => {
  it('stand beside their lines where there is room, and below the one before where there is none', () => {
    const tops = stackNotes([note('a', 10), note('b', 15, 40), note('c', 200)], '');
    expect([...tops]).toEqual([['a', 10], ['b', 36], ['c', 200]]); // prettier-ignore
  });

  it('make room for the one that is chosen, which stands at its line', () => {
    const tops = stackNotes([note('a', 100), note('b', 105), note('c', 106)], 'b');
    expect([...tops]).toEqual([['a', 79], ['b', 105], ['c', 131]]); // prettier-ignore
  });

  it('of lines that are seen are seen too, where the margin is shorter than the work', () => {
    const seen = { from: 0, to: 100, workTo: 300 };
    const tops = stackNotes([note('a', 10), note('b', 90), note('c', 250), note('d', 400)], '', seen);
    expect([...tops]).toEqual([['a', 10], ['b', 54], ['c', 80], ['d', 400]]); // prettier-ignore
  });

  it('never lie on each other, whatever is chosen', () => {
    const notes = Array.from({ length: 30 }, (_, i) => note(`n${i}`, (i * 37) % 90, 10 + ((i * 7) % 40)));
    for (const chosen of ['', 'n3', 'n17', 'n29']) {
      const tops = stackNotes(notes, chosen);
      const all = notes.map((n) => ({ ...n, top: tops.get(n.id)! })).sort((a, b) => a.top - b.top);
      all.slice(1).forEach((n, i) => expect(n.top).toBeGreaterThanOrEqual(all[i]!.top + all[i]!.height));
      if (chosen) expect(tops.get(chosen)).toBe(notes.find((n) => n.id === chosen)!.top);
    }
  });
});
