// npm test: all set-up of its own, the checks, and every runner. Ends with one line that counts all tests.
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from './lib/build.mjs';
import { ensurePackages, installDebian, requireNode } from './lib/packages.mjs';
import { run } from './lib/run.mjs';
import { say, sentenceFor } from './lib/say.mjs';
import { root } from './lib/stamps.mjs';

const part = process.argv[2] ?? 'all';
const parts = {
  all: ['checks', 'unit', 'scripts', 'server', 'web', 'e2e'],
  unit: ['unit', 'scripts', 'web'],
  scripts: ['scripts'],
  server: ['server'],
  e2e: ['e2e'],
}[part];
const total = { passed: 0, failed: 0, skipped: 0 };
/** What failed, said once more before the closing line: the rest of the output may be long. */
const fell = [];
const folder = mkdtempSync(join(tmpdir(), 'last-tally-counts-'));
const bin = (name) => join(root, 'node_modules', '.bin', name);

/** A check passes or fails as a whole; a failed one counts as one failure. */
async function check(title, command, args) {
  say(`\n— ${title}`);
  const { code } = await run(command, args, { cwd: root });
  if (code !== 0) {
    total.failed++;
    fell.push(title);
    say(`${title}: failed`);
  }
}

/** A runner writes its counts to a file; where it wrote none, or failed with no failed test, that is a failure too. */
async function suite(title, command, args) {
  say(`\n— ${title}`);
  const counts = join(folder, `${title.replace(/\W/g, '')}.json`);
  const { code } = await run(command, args, {
    cwd: root,
    env: { ...process.env, COUNTS: counts, NG_CLI_ANALYTICS: 'false' },
  });
  const found = existsSync(counts) ? JSON.parse(readFileSync(counts, 'utf8')) : { passed: 0, failed: 0, skipped: 0 };
  fell.push(...(found.names ?? []));
  for (const key of Object.keys(total)) total[key] += found[key];
  const nothing = found.passed + found.failed === 0;
  if (nothing || (code !== 0 && found.failed === 0)) {
    total.failed++;
    fell.push(title);
    say(`${title}: ${nothing ? 'no test was run' : 'ended with an error'}`);
  }
}

const steps = {
  async checks() {
    await check('Format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
    await check('Lint and room doors', bin('eslint'), ['.']);
    await check('Types', bin('tsc'), ['-p', 'tsconfig.json', '--noEmit']);
    await check('Types of the web workers', bin('tsc'), ['-p', 'web/tsconfig.worker.json', '--noEmit']);
    await check('Lock file', process.execPath, ['scripts/lib/check-lock.mjs']);
  },
  async unit() {
    await suite('Unit tests', bin('vitest'), [
      'run',
      '--project',
      'unit',
      '--reporter',
      'default',
      '--reporter',
      './scripts/lib/vitest-counts.mjs',
    ]);
  },
  async scripts() {
    // The start command is tested with what is built, and by itself: it starts a whole school.
    await build();
    await suite('The commands', bin('vitest'), [
      'run',
      '--project',
      'scripts',
      '--reporter',
      'default',
      '--reporter',
      './scripts/lib/vitest-counts.mjs',
    ]);
  },
  async server() {
    await suite('Server tests', bin('vitest'), [
      'run',
      '--project',
      'server',
      '--reporter',
      'default',
      '--reporter',
      './scripts/lib/vitest-counts.mjs',
    ]);
  },
  async web() {
    await suite('Web components', bin('ng'), ['test', '--no-watch']);
  },
  async e2e() {
    if (!process.env.CHROMIUM && !existsSync('/usr/bin/chromium')) await installDebian(['chromium'], 'Chromium');
    await build();
    await suite('The path in the browser', bin('playwright'), ['test']);
  },
};

try {
  if (!parts) throw new Error(`There is no part “${part}”: unit, scripts, server, e2e, or none for all.`);
  requireNode();
  await ensurePackages();
  for (const name of parts) await steps[name]();
} catch (error) {
  total.failed++;
  fell.push(sentenceFor(error));
  process.stderr.write(`${sentenceFor(error)}\n`);
}
rmSync(folder, { recursive: true, force: true });
say('');
for (const name of fell) say(`failed: ${name.split('\n').slice(0, 6).join('\n  ')}`);
say(`${total.passed} passed, ${total.failed} failed${total.skipped > 0 ? `, ${total.skipped} skipped` : ''}`);
process.exit(total.failed > 0 || total.passed === 0 ? 1 : 0);
