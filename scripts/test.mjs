// npm test: all set-up of its own, the checks, and every runner. Ends with one line that counts all tests.
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from './lib/build.mjs';
import { ensureTestChromium } from './lib/chromium.mjs';
import { ensureDemoDump } from './lib/database/demo-school.mjs';
import { buildGuide } from './lib/guide.mjs';
import { ensurePackages, requireNode } from './lib/packages.mjs';
import { run } from './lib/run.mjs';
import { say, sentenceFor } from './lib/say.mjs';
import { hashOfSources, isFresh, putStamp, root } from './lib/stamps.mjs';

const part = process.argv[2] ?? 'all';
const total = { passed: 0, failed: 0, skipped: 0 };
/** What failed, said once more before the closing line: the rest of the output may be long. */
const fell = [];
const folder = mkdtempSync(join(tmpdir(), 'last-tally-counts-'));
const bin = (name) => join(root, 'node_modules', '.bin', name);

const environment = { ...process.env, NG_CLI_ANALYTICS: 'false' };

/**
 * Runs something under a title. What runs beside something else is shown when it is through, so that the lines of the
 * two stay apart.
 */
async function titled(title, beside, command, args, env = environment) {
  if (!beside) say(`\n— ${title}`);
  const { code, output } = await run(command, args, { cwd: root, env, quiet: beside });
  if (beside) say(`\n— ${title}\n${output.trimEnd()}`);
  return code;
}

/** Files whose properties look at more random books in `npm run test:long` (core/testing/tries.ts). */
const PROPERTIES = [
  ...['against-reference', 'assemble', 'changes', 'compare', 'estimate', 'exception-effects', 'mutations'],
  ...['statistics', 'student-document', 'warnings', 'working'],
];

/** A check passes or fails as a whole; a failed one counts as one failure. */
async function check(title, command, args) {
  if ((await titled(title, true, command, args)) === 0) return;
  total.failed++;
  fell.push(title);
  say(`${title}: failed`);
}

/** A runner writes its counts to a file; where it wrote none, or failed with no failed test, that is a failure too. */
async function suite(title, beside, command, args, more = {}) {
  const counts = join(folder, `${title.replace(/\W/g, '')}.json`);
  const code = await titled(title, beside, command, args, { ...environment, ...more, COUNTS: counts });
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

/** Tests of one project of vitest.config.ts, by this many workers; of some files alone where they are named. */
const vitest = (title, project, workers, files = [], beside = false) =>
  suite(title, beside, bin('vitest'), [
    'run',
    ...files,
    `--project=${project}`,
    `--maxWorkers=${workers}`,
    '--reporter=default',
    '--reporter=./scripts/lib/vitest-counts.mjs',
  ]);

/** What was looked at and has not changed is not looked at again: each has a cache under .cache. */
async function checks() {
  await check('Format', bin('prettier'), [
    ...['--check', '--log-level', 'warn', '--cache', '--cache-strategy', 'content'],
    ...['--cache-location', '.cache/prettier', '.'],
  ]);
  await check('Lint and room doors', bin('eslint'), [
    ...['--cache', '--cache-strategy', 'content', '--cache-location', '.cache/eslint', '.'],
  ]);
  await types();
  await check('Lock file', process.execPath, ['scripts/lib/check-lock.mjs']);
}

/** With nothing changed the compiler still reads every file: it is asked only where something has. */
async function types() {
  const stamp = join(root, '.cache/tsc/stamp');
  const hash = hashOfSources();
  if (isFresh(stamp, hash)) return;
  const failed = total.failed;
  const parts = [
    ['Types', 'tsconfig.json', 'all'],
    ['Types of the web workers', 'web/tsconfig.worker.json', 'worker'],
    ['Types of the pages and their tests', 'web/tsconfig.spec.json', 'web'],
  ];
  for (const [title, project, name] of parts)
    await check(title, bin('tsc'), [
      ...['-p', project, '--noEmit', '--incremental', '--tsBuildInfoFile', `.cache/tsc/${name}`],
    ]);
  if (total.failed === failed) putStamp(stamp, hash);
}

/** Their types are looked at by the checks, those of the pages' templates when the application is built: not once more here. */
const web = (beside) =>
  suite('Web components', beside, bin('ng'), ['test', '--no-watch'], { NG_BUILD_TYPE_CHECK: 'false' });

/** The start command is tested with what is built. */
async function commands(beside = false) {
  await build();
  await vitest('The commands', 'scripts', 1, [], beside);
}

async function browser() {
  await ensureTestChromium();
  await build();
  await suite('The path in the browser', false, bin('playwright'), ['test']);
}

/** Waits for both, whatever becomes of either: what one throws is told when the other is through. */
async function together(...steps) {
  for (const end of await Promise.allSettled(steps)) if (end.status === 'rejected') throw end.reason;
}

/**
 * The machine is thought of as having two cores, which always have something to do: beside the tests that run by two
 * workers go the checks, and what is built with the demo school that the browser tests begin with.
 */
const parts = {
  all: [
    () =>
      together(
        vitest('Unit tests', 'unit', 2).then(() => vitest('Server tests', 'server', 2)),
        checks().then(() => web(true)),
        commands(true).then(() => ensureDemoDump()),
      ),
    browser,
  ],
  unit: [() => vitest('Unit tests', 'unit', 2), () => web(false), () => commands()],
  scripts: [() => commands()],
  server: [() => vitest('Server tests', 'server', 2)],
  web: [() => web(false)],
  // What takes long: the same tests with more of everything, and those in the browser that are tagged @long.
  long: [
    () => {
      environment.LONG = 'true';
      return together(
        vitest('Long tests', 'server', 1, ['race', 'any-body']),
        vitest('Long tests of the calculation', 'unit', 1, PROPERTIES, true),
      );
    },
    browser,
  ],
  checks: [checks],
  e2e: [browser],
}[part];

try {
  if (!parts)
    throw new Error(`There is no part “${part}”: checks, unit, scripts, server, web, e2e, long, or none for all.`);
  requireNode();
  await ensurePackages();
  await buildGuide();
  for (const step of parts) await step();
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
