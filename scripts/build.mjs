import { build } from './lib/build.mjs';
import { ensurePackages, requireNode } from './lib/packages.mjs';
import { sentenceFor } from './lib/say.mjs';

try {
  requireNode();
  await ensurePackages();
  await build();
} catch (error) {
  process.stderr.write(`${sentenceFor(error)}\n`);
  process.exit(1);
}
