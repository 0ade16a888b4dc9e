import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { LARGEST } from '@core/book/checks/check';

const examples = 'core/testing/examples';
const folder = mkdtempSync(join(tmpdir(), 'last-tally-terminal-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const tally = (args: string[], input?: string | Buffer) =>
  spawnSync(process.execPath, ['terminal/tally.mjs', ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    ...(input === undefined ? {} : { input }),
  });
const text = (name: string): string => readFileSync(`${examples}/${name}`, 'utf8');
const oneLine = (name: string): string => JSON.stringify(JSON.parse(text(name)));
const file = (name: string, content: string | Buffer): string => {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
};

describe('tally compute', () => {
  it('works out a file and standard input alike, a byte-order mark or not', () => {
    const name = '01-weighted-categories';
    const expected: unknown = JSON.parse(text(`${name}.result.json`));
    const fromFile = tally(['compute', `${examples}/${name}.book.json`]);
    expect([fromFile.status, JSON.parse(fromFile.stdout), fromFile.stderr]).toEqual([0, expected, '']);
    expect(JSON.parse(tally(['compute', '-'], `\uFEFF${text(`${name}.book.json`)}`).stdout)).toEqual(expected);
  });

  it('refuses with code 2 and the problems on standard error', () => {
    const refused = tally(['compute', `${examples}/18-refused.book.json`]);
    const pointers = JSON.parse(text('18-refused.pointers.json')) as string[];
    const { problems } = JSON.parse(refused.stderr) as { problems: { at: string; says: string }[] };
    expect([refused.status, refused.stdout, problems.map((p) => p.at).sort()]).toEqual([2, '', pointers]);
    for (const [args, input] of [
      [['compute', 'no-such-file.json'], undefined],
      [['compute', '-'], '{"format": '],
      [['compute', '-'], Buffer.from([0x22, 0xff, 0xfe, 0x22])],
    ] as const) {
      const answer = tally([...args], input);
      expect([answer.status, JSON.parse(answer.stderr)]).toMatchObject([2, { problems: [{ at: '' }] }]);
    }
  });

  it('refuses more than 128 MiB without reading it', () => {
    const large = file('large.json', '');
    truncateSync(large, LARGEST * 8);
    const answer = tally(['compute', large]);
    expect([answer.status, JSON.parse(answer.stderr)]).toEqual([
      2,
      { problems: [{ at: '', says: 'The document is larger than 128 MiB.' }] },
    ]);
  });

  it('goes line by line, a refused book and a line past all bounds included, in constant memory', async () => {
    const good = oneLine('02-blank-and-missing.book.json');
    const lines = tally(['compute', '--lines'], `${good}\n{"format": 1}\n\n${good}`);
    const kinds = (out: string): (string | undefined)[] =>
      out
        .trim()
        .split('\n')
        .map((l) => Object.keys(JSON.parse(l) as object)[0]);
    expect([lines.status, kinds(lines.stdout)]).toEqual([0, ['format', 'problems', 'format']]);
    // A line of twice the largest document is passed over; a small heap would not hold it.
    const child = spawn(process.execPath, ['--max-old-space-size=120', 'terminal/tally.mjs', 'compute', '--lines']);
    let out = '';
    child.stdout.on('data', (d: Buffer) => (out += d.toString()));
    const chunk = Buffer.alloc(1 << 20, 'x');
    const write = async (b: Buffer | string): Promise<void> => {
      if (!child.stdin.write(b)) await new Promise((done) => child.stdin.once('drain', done));
    };
    for (let i = 0; i < 2 * (LARGEST / chunk.length); i++) await write(chunk);
    for (let i = 0; i < 400; i++) await write(`\n${good}`);
    child.stdin.end('\n');
    const code = await new Promise((done) => child.once('exit', done));
    expect([code, kinds(out)[0], kinds(out).length, new Set(kinds(out).slice(1))]).toEqual([
      0,
      'problems',
      401,
      new Set(['format']),
    ]);
  });

  it('finds a file where the person stands, though npm runs it in the project’s folder', () => {
    const own = file('own.json', text('02-blank-and-missing.book.json'));
    const answer = spawnSync(process.execPath, ['terminal/tally.mjs', 'check', 'own.json'], {
      encoding: 'utf8',
      env: { ...process.env, INIT_CWD: folder },
    });
    expect([answer.status, own.startsWith(folder)]).toEqual([0, true]);
  });

  it('ends quietly where the reader has seen enough', () => {
    const good = `${oneLine('02-blank-and-missing.book.json')}\n`.repeat(2_000);
    const path = file('many.jsonl', good);
    const piped = spawnSync('sh', ['-c', `node terminal/tally.mjs compute --lines ${path} | head -n 1`], {
      encoding: 'utf8',
    });
    expect([piped.status, piped.stderr, piped.stdout.split('\n').length]).toEqual([0, '', 2]);
  });
});

describe('tally', () => {
  it('checks, and warns', () => {
    const book = `${examples}/13-hurdle-override-range.book.json`;
    expect(tally(['check', book])).toMatchObject({ status: 0, stdout: '{"problems": []}\n' });
    expect(tally(['check', `${examples}/18-refused.book.json`]).status).toBe(2);
    const warned = tally(['warnings', book]);
    expect([warned.status, Object.keys(JSON.parse(warned.stdout) as object)]).toEqual([0, ['warnings']]);
  });

  it('compares two books: who moves and through what', () => {
    const book = JSON.parse(text('02-blank-and-missing.book.json')) as object;
    const [a, b] = [file('a.json', JSON.stringify(book)), file('b.json', JSON.stringify({ ...book, closing: true }))];
    const trial = JSON.parse(tally(['compare', a, b]).stdout) as {
      movers: { student: string; through: number[]; together: boolean }[];
      differences: { kind: string; at: string }[];
      stay: number;
      students: number;
    };
    expect(trial.differences).toMatchObject([{ kind: 'setting', at: 'closing' }]);
    expect(trial.movers.length).toBeGreaterThan(0);
    for (const m of trial.movers) expect([m.through, m.together]).toEqual([[0], false]);
    expect(JSON.parse(tally(['compare', a, a]).stdout)).toMatchObject({ movers: [], differences: [] });
    const refused = tally(['compare', a, `${examples}/18-refused.book.json`]);
    expect([refused.status, JSON.parse(refused.stderr)]).toMatchObject([
      2,
      { file: expect.stringContaining('18-refused') as string },
    ]);
  });

  it('explains a standing with all below it, or one item', () => {
    const book = `${examples}/13-hurdle-override-range.book.json`;
    const whole = tally(['explain', book, 'hurdle']).stdout;
    expect(whole).toMatch(/^Standing of hurdle\n/);
    expect(whole).toContain('exam must reach 40 %; it has 35 %, so the whole is at most 39 %');
    expect(whole).toContain('\nw2\n  Marked');
    expect(tally(['explain', book, 'hurdle', 'exam']).stdout).toMatch(/^exam\n {2}Marked +35\n/);
    for (const args of [['nobody'], ['hurdle', 'nothing']])
      expect(tally(['explain', book, ...args])).toMatchObject({ status: 2, stdout: '' });
  });

  it('prints the schemas and its help, and says what it does not understand', () => {
    expect(JSON.parse(tally(['schema']).stdout)).toMatchObject({
      book: { $schema: 'https://json-schema.org/draft/2020-12/schema' },
      result: { $id: 'last-tally.result/1' },
    });
    expect(JSON.parse(tally(['schema', 'result']).stdout)).toMatchObject({ $id: 'last-tally.result/1' });
    expect(tally(['--help'])).toMatchObject({ status: 0, stderr: '' });
    for (const args of [[], ['comput'], ['compute'], ['schema', 'x'], ['explain', 'x']])
      expect(tally(args)).toMatchObject({ status: 2, stdout: '' });
  });
});
