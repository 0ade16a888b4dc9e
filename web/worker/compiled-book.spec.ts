import { compileBook } from '@core/calculation/compiled/compile';
import { workOutStudent } from '@core/calculation/final';
import { itemValue } from '@core/calculation/cells/value';
import { subtract, type Fraction } from '@core/exact/fraction';
import { scaledInteger } from '@core/exact/rounding';
import { anyBook } from '@core/testing/random-policies';
import { testSheet } from '../testing/book';
import { WorkerBook } from './compiled-book';
import { FLAG, STATES } from './protocol';

describe('the book that the worker keeps', () => {
  it('gives columns: what counts in hundredths, what was marked in ten-thousandths', () => {
    const cells = new WorkerBook(testSheet()).cells();
    expect([...cells.counts]).toEqual([1600, NaN, 600, NaN]);
    expect([...cells.marked]).toEqual([160_000, NaN, 100_000, NaN]);
    expect([...cells.taken]).toEqual([NaN, NaN, 400, NaN]);
    expect([...cells.version]).toEqual([4, 0, 1, 0]);
    expect([...cells.state].map((s) => STATES[s])).toEqual(['scored', 'blank', 'scored', 'blank']);
    expect(cells.flags[0]! & FLAG.released).toBe(FLAG.released);
  });

  it('works a change out at once, as changed since released, and settles on what the server keeps', () => {
    const kept = new WorkerBook(testSheet());
    const [row] = kept.change([{ student: 's1', item: 'moss', change: { kind: 'score', points: 20 } }]);
    expect(row!.standing).toMatchObject({ percent: '100.0', letter: 'A' });
    expect(row!.cells.flags[0]! & FLAG.changed).toBe(FLAG.changed);
    const content = { attempts: [{ score: 8 }] };
    const [settled] = kept.settle([{ student: 's1', item: 'moss', content, version: 6, releaseState: 2 }]);
    expect([settled!.standing.percent, settled!.cells.version[0]]).toEqual(['40.0', 6]);
    expect(kept.current().entries.find((e) => e.student === 's1')?.attempts).toEqual([{ score: 8 }]);
  });

  it('tries rules on what was typed since the book was opened, without touching it', () => {
    const kept = new WorkerBook(testSheet());
    kept.change([{ student: 's2', item: 'reed', change: { kind: 'score', points: 10 } }]);
    const rules = structuredClone(kept.rules);
    rules.late = null;
    const { trial, problems } = kept.trial({ rules, items: {}, cells: [] });
    expect([trial.up, trial.down, trial.stay, problems]).toEqual([1, 0, 1, []]);
    expect(trial.movers[0]).toMatchObject({ student: 's2', before: { percent: '53.3' }, after: { percent: '66.7' } });
    expect(kept.trial({ rules: { ...rules, blank: 'unknown' }, items: {}, cells: [] }).problems).toHaveLength(1);
    expect(kept.standings().standings[1]!.percent).toBe('53.3');
  });

  it('changes many cells at once, a row for each student', () => {
    const kept = new WorkerBook(testSheet());
    const score = (student: string, item: string, points: number) => ({
      student,
      item,
      change: { kind: 'score' as const, points },
    });
    const rows = kept.change([score('s1', 'moss', 20), score('s2', 'reed', 5), score('s1', 'reed', 10)]);
    expect(rows.map((r) => [r.student, r.standing.percent])).toEqual([
      ['s1', '100.0'],
      ['s2', '36.7'],
    ]);
  });

  it('shows the book as if the term ended now, what is typed meanwhile included, and as it is again', () => {
    const kept = new WorkerBook(testSheet());
    const closed = kept.atClosing(true);
    // The reed of December is past due now: nothing for 10 of 30 points.
    expect(STATES[closed.cells.state[1]!]).toBe('missing');
    expect(closed.standings.map((s) => s.percent)).toEqual(['53.3', '20.0']);
    kept.change([{ student: 's1', item: 'reed', change: { kind: 'score', points: 10 } }]);
    const open = kept.atClosing(false);
    expect(STATES[open.cells.state[3]!]).toBe('blank');
    expect(open.standings.map((s) => s.percent)).toEqual(['86.7', '30.0']);
  });

  it('totals a category and goes over the term', () => {
    const kept = new WorkerBook(testSheet());
    expect([...kept.totals('work')].map((t) => t.toFixed(1))).toEqual(['80.0', '30.0']);
    expect([...kept.totals('nothing')]).toEqual([NaN, NaN]);
    const points = kept.overTerm('s1');
    expect(points.map((p) => [new Date(p.at).toISOString(), p.standing.percent])).toEqual([
      ['2026-10-10T16:00:00.000Z', '80.0'],
      ['2026-11-24T09:00:00.000Z', '80.0'],
    ]);
  });

  it('explains with the titles given', () => {
    const lines = new WorkerBook(testSheet()).explainItem('s2', 'moss', { moss: 'Moss' });
    expect(lines.map((l) => l.label)).toEqual(['Marked', 'Late 2 days, said by hand', 'Counts as', 'Share']);
    expect(lines.at(-1)!.detail).toBe('20 points in Field work');
  });

  it('gives columns and standings that are the exact ones in any book', () => {
    for (let seed = 0; seed < 80; seed++) {
      const document = anyBook(seed);
      const beside = document.entries.map(() => 0 as const);
      const kept = new WorkerBook({ ...testSheet(), document, versions: beside, releaseStates: beside });
      const cells = kept.cells();
      const compiled = compileBook(document);
      const width = compiled.items.length;
      const { standings, dropped } = kept.standings();
      compiled.students.forEach((student, s) => {
        const outcome = workOutStudent(compiled, s);
        expect(standings[s]).toMatchObject({ percent: outcome.final.rounded, letter: outcome.final.letter });
        const row = kept.row(s);
        expect(row!.standing).toEqual(standings[s]);
        for (const item of compiled.items) {
          const at = s * width + item.index;
          const value = itemValue(compiled, item, s);
          const late = value.attempts?.chosen?.late ? value.attempts.chosen : null;
          const hundredths = (f: Fraction): number => Number(scaledInteger(f, 2, 'half-up'));
          expect(STATES[cells.state[at]!]).toBe(value.state);
          expect(cells.counts[at]).toBe(value.earned === null ? NaN : hundredths(value.earned));
          // Nothing taken is shown alike, late or not.
          expect(cells.taken[at] || 0).toBe(late ? hundredths(subtract(late.curved, late.afterLate)) : 0);
          expect(dropped[at] === 1).toBe(outcome.tree.dropped[item.index] === true);
          expect(row.cells.counts[item.index]).toBe(cells.counts[at]);
        }
        expect(row.student).toBe(student.id);
      });
    }
  });
});
