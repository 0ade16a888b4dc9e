import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants, gzip } from 'node:zlib';
import { buildGuide } from './guide.mjs';
import { must } from './run.mjs';
import { say } from './say.mjs';
import { hashOf, isFresh, putStamp, root } from './stamps.mjs';

const brotli = promisify(brotliCompress);
const gzipped = promisify(gzip);

const SHARED = ['core', 'contract', 'package-lock.json', 'tsconfig.base.json'];

/** Builds what is stale: the web application and the server. */
export async function build() {
  await Promise.all([buildServer(), buildWeb()]);
}

export async function buildServer() {
  const stamp = join(root, 'dist', 'server.stamp');
  const hash = hashOf(['server', 'scripts/lib/build.mjs', ...SHARED]);
  if (isFresh(stamp, hash)) return;
  const { build } = await import('esbuild');
  rmSync(join(root, 'dist/server'), { recursive: true, force: true });
  await build({
    entryPoints: [
      'server/main.ts',
      'server/serve-again.ts',
      'server/job-thread.ts',
      'server/release-thread.ts',
      'server/password-link.ts',
      'server/modules/policy-rollout/rollout-thread.ts',
    ].map((file) => join(root, file)),
    outdir: join(root, 'dist/server'),
    entryNames: '[name]',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    // With its packages: hundreds of files are slow to open at each start. But for what brings files of its own.
    external: ['@node-rs/argon2', 'pdfkit', 'fontkit', 'node-pg-migrate'],
    banner: {
      js: `import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);`,
    },
    // What is opened only when it is needed is a file of its own.
    splitting: true,
    chunkNames: 'part-[hash]',
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    sourcesContent: false,
    minifyWhitespace: true,
    tsconfig: join(root, 'tsconfig.base.json'),
    logLevel: 'error',
  });
  putStamp(stamp, hash);
}

/** Beside each text file of the application the same compressed, as small as it gets: it is sent far more often than built. */
async function compressFiles(folder) {
  const names = readdirSync(folder).filter((f) => /\.(m?js|css|svg|json)$/.test(f));
  await Promise.all(
    names.map(async (name) => {
      const bytes = readFileSync(join(folder, name));
      if (bytes.length < 1_000) return;
      const small = await brotli(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } });
      writeFileSync(join(folder, `${name}.br`), small);
      writeFileSync(join(folder, `${name}.gz`), await gzipped(bytes, { level: 9 }));
    }),
  );
}

export async function buildWeb() {
  const stamp = join(root, 'dist', 'web.stamp');
  const hash = hashOf([
    'web',
    'angular.json',
    'docs/guide',
    'scripts/lib/guide.mjs',
    'scripts/lib/build.mjs',
    ...SHARED,
  ]);
  if (isFresh(stamp, hash)) return;
  await buildGuide();
  say('Building the web application (under a minute) …');
  await must('The web application could not be built.', join(root, 'node_modules/.bin/ng'), ['build'], {
    cwd: root,
    quiet: true,
    // Parts that are always opened together are one file: a page asks for a third less of them.
    env: { ...process.env, NG_CLI_ANALYTICS: 'false', NG_BUILD_OPTIMIZE_CHUNKS: 'true' },
  });
  const built = join(root, 'dist/web/browser');
  await compressFiles(built);
  for (const name of readdirSync(built).filter((f) => f.startsWith('pdfjs-'))) await compressFiles(join(built, name));
  putStamp(stamp, hash);
}
