import { join } from 'node:path';
import { buildGuide } from './guide.mjs';
import { must } from './run.mjs';
import { say } from './say.mjs';
import { hashOf, isFresh, putStamp, root } from './stamps.mjs';

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
  await build({
    entryPoints: [join(root, 'server/main.ts'), join(root, 'server/modules/policy-rollout/rollout-thread.ts')],
    outdir: join(root, 'dist/server'),
    entryNames: '[name]',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    packages: 'external',
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    tsconfig: join(root, 'tsconfig.base.json'),
    logLevel: 'error',
  });
  putStamp(stamp, hash);
}

export async function buildWeb() {
  const stamp = join(root, 'dist', 'web.stamp');
  const hash = hashOf(['web', 'angular.json', 'docs/guide', 'scripts/lib/guide.mjs', ...SHARED]);
  if (isFresh(stamp, hash)) return;
  await buildGuide();
  say('Building the web application (under a minute) …');
  await must('The web application could not be built.', join(root, 'node_modules/.bin/ng'), ['build'], {
    cwd: root,
    quiet: true,
    env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
  });
  putStamp(stamp, hash);
}
