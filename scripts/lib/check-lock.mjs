// Every optional dependency named in the lock file must have an entry of its own, or npm ci fails on another machine.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './stamps.mjs';

const text = readFileSync(join(root, 'package-lock.json'), 'utf8');
const { packages } = JSON.parse(text);
const there = new Set(Object.keys(packages).map((p) => p.replace(/^.*node_modules\//, '')));
const missing = Object.entries(packages).flatMap(([path, p]) =>
  Object.keys(p.optionalDependencies ?? {})
    .filter((name) => !there.has(name))
    .map((name) => `${path} → ${name}`),
);
// No download address is written down: the machine's own npm settings say where packages come from.
const hosts = [...text.matchAll(/"resolved": "(https?:[^"]+)"/g)].map((m) => m[1]);
for (const line of [...missing, ...hosts.slice(0, 5)]) process.stderr.write(`${line}\n`);
process.exit(missing.length + hosts.length > 0 ? 1 : 0);
