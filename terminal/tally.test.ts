import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';

const examples = 'core/testing/examples';
const tally = (args: string[], input?: string) =>
  spawnSync(process.execPath, ['--import', 'tsx', 'terminal/tally.ts', ...args], {
    encoding: 'utf8',
    ...(input === undefined ? {} : { input }),
  });

describe('tally', () => {
  it('computes a file and standard input alike', () => {
    const file = `${examples}/01-weighted-categories.book.json`;
    const expected: unknown = JSON.parse(readFileSync(file.replace('.book.', '.result.'), 'utf8'));
    const fromFile = tally(['compute', file]);
    expect([fromFile.status, JSON.parse(fromFile.stdout)]).toEqual([0, expected]);
    expect(JSON.parse(tally(['compute', '-'], readFileSync(file, 'utf8')).stdout)).toEqual(expected);
  });

  it('refuses with code 2 and the problems on standard error', () => {
    const refused = tally(['compute', `${examples}/18-refused.book.json`]);
    expect([refused.status, refused.stdout]).toEqual([2, '']);
    expect((JSON.parse(refused.stderr) as { problems: unknown[] }).problems).toHaveLength(9);
    const missing = tally(['compute', 'no-such-file.json']);
    expect([missing.status, JSON.parse(missing.stderr)]).toMatchObject([2, { problems: [{ at: '' }] }]);
  });

  it('goes line by line, a refused book included', () => {
    const good = JSON.stringify(JSON.parse(readFileSync(`${examples}/02-blank-and-missing.book.json`, 'utf8')));
    const lines = tally(['compute', '--lines'], `${good}\n{"format": 1}\n\n${good}\n`);
    const out = lines.stdout
      .trim()
      .split('\n')
      .map((l) => Object.keys(JSON.parse(l) as object)[0]);
    expect([lines.status, out]).toEqual([0, ['format', 'problems', 'format']]);
  });
});
