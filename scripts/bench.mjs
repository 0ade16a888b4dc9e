import { join } from 'node:path';
import { ensurePackages, requireNode } from './lib/packages.mjs';
import { run } from './lib/run.mjs';
import { sentenceFor } from './lib/say.mjs';
import { root } from './lib/stamps.mjs';

try {
  requireNode();
  await ensurePackages();
  const { code } = await run(
    process.execPath,
    ['--expose-gc', '--import', 'tsx', join(root, 'bench/main.ts'), ...process.argv.slice(2)],
    { cwd: root },
  );
  process.exit(code);
} catch (error) {
  process.stderr.write(`${sentenceFor(error)}\n`);
  process.exit(1);
}
