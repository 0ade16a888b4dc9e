// The tally command: bundles terminal/ and what it needs once, into dist/ (or where that cannot be written, into the system's
// folder for temporary files), and runs the bundle from then on. A changed source gives another bundle.
import { existsSync, mkdirSync, renameSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { hashOf, root } from '../scripts/lib/stamps.mjs';

// What looks into a database is a bundle of its own: working out a book needs none of it.
const verifies = process.argv[2] === 'verify-journal';
const sources = ['terminal', 'core', 'tsconfig.base.json', ...(verifies ? ['server'] : [])];
const name = `${hashOf(sources).slice(0, 24)}.mjs`;

async function bundleInto(folder) {
  const bundle = join(folder, name);
  if (existsSync(bundle)) return bundle;
  mkdirSync(folder, { recursive: true });
  const { build } = await import('esbuild');
  // Two may do this at once: each writes a file of its own, and the last to be renamed stays.
  const own = join(folder, `${process.pid}-${name}`);
  await build({
    entryPoints: [join(root, verifies ? 'terminal/verify-journal.ts' : 'terminal/main.ts')],
    outfile: own,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    tsconfig: join(root, 'tsconfig.base.json'),
    external: ['pg-native'],
    // Packages in the older form ask for Node's own modules by a function that this form has not.
    banner: {
      js: `import { createRequire as toRequire } from 'node:module'; const require = toRequire(import.meta.url);`,
    },
    logLevel: 'error',
  });
  renameSync(own, bundle);
  return bundle;
}

let bundle;
try {
  bundle = await bundleInto(join(root, 'dist', 'tally'));
} catch (error) {
  if (!['EACCES', 'EROFS', 'EPERM'].includes(error.code)) {
    const says = error.code === 'ERR_MODULE_NOT_FOUND' ? 'Run npm ci first.' : error.message;
    process.stderr.write(`tally could not be put together: ${says}\n`);
    process.exit(1);
  }
  bundle = await bundleInto(join(tmpdir(), `last-tally-${process.getuid?.() ?? ''}`));
}
if (verifies) {
  const { withDatabase } = await import('../scripts/lib/database/which-database.mjs');
  const { sentenceFor } = await import('../scripts/lib/say.mjs');
  const { verifyJournal } = await import(bundle);
  await withDatabase((url) => verifyJournal(url, process.argv.slice(3))).then(
    (code) => (process.exitCode = code),
    (error) => {
      process.stderr.write(`${sentenceFor(error)}\n`);
      process.exitCode = 2;
    },
  );
} else await import(bundle);
