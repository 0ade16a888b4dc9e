import { writeFileSync } from 'node:fs';
import { coreFigures } from './core';
import { round, type Figure } from './figure';
import { ledgerFigures } from './ledger';
import { officeFigures, releaseFigures } from './release';
import { schoolFigures } from './school';
import { serverFigures } from './server-figures';
import { intakeFigures, webFigures } from './web';
import { markingFigures } from './marking';
import { workFigures } from './work';

/** Bounds of the project's figures; a value beyond one is marked. `above`: higher is better. */
const BOUNDS: Record<string, { bound: number; above?: true }> = {
  'core.whole-book.ratio-to-bare-loop': { bound: 20 },
  'core.whole-book.ratio-to-sheet-engine': { bound: 20, above: true },
  'core.compile.ratio-to-json-parse': { bound: 1.2 },
  'core.one-change.us': { bound: 80 },
  'core.policies.ratio': { bound: 1.6 },
  'core.growth.exponent': { bound: 1.1 },
  'core.bytes-per-entry': { bound: 160 },
  'core.lines.books-per-s': { bound: 140, above: true },
  'ledger.first-paint.ms': { bound: 1200 },
  'ledger.key-to-paint.ratio-to-bare-input': { bound: 2 },
  'ledger.standing-after-key.p95-ms': { bound: 100 },
  'ledger.scroll.long-tasks': { bound: 0 },
  'ledger.paste-2000.shown-ms': { bound: 800 },
  'ledger.paste-2000.kept-ms': { bound: 1500 },
  'ledger.trial.ms': { bound: 90 },
  'ledger.journal-200k.ms': { bound: 220 },
  'school.trial-50-books.s': { bound: 20 },
  'school.scores-meanwhile.p95-ms': { bound: 100 },
  'server.scores.ratio-to-plain-updates': { bound: 0.5, above: true },
  'server.200-markers.p95-ms': { bound: 100 },
  'server.200-markers.errors': { bound: 0 },
  'server.office-100-books.ms': { bound: 500 },
  'web.first-load.kb': { bound: 420 },
  'intake.200k.long-tasks': { bound: 0 },
  'work.upload.ratio-to-plain-insert': { bound: 2.5 },
  'work.upload.rss-mb': { bound: 100 },
  'work.rush.p95-ms': { bound: 1500 },
  'work.rush.errors': { bound: 0 },
  'work.list.ms': { bound: 500 },
  'marking.next-readable.p95-ms': { bound: 200 },
  'marking.key-to-paint.ratio-to-bare-input': { bound: 2 },
  'marking.pen.ratio-to-bare-canvas': { bound: 2 },
  'marking.seen-elsewhere.p95-ms': { bound: 1000 },
  'marking.open-60-pages.ms': { bound: 600 },
  'marking.step-everybody.heap-mb': { bound: 20 },
  'release.400.s': { bound: 5 },
  'release.400.scores-meanwhile.p95-ms': { bound: 100 },
};
const PARTS: Record<string, () => Figure[] | Promise<Figure[]>> = {
  core: coreFigures,
  ledger: ledgerFigures,
  school: schoolFigures,
  server: serverFigures,
  release: releaseFigures,
  office: officeFigures,
  web: webFigures,
  intake: intakeFigures,
  work: workFigures,
  marking: markingFigures,
};

function row(f: Figure): string {
  const { bound, above } = BOUNDS[f.name]!;
  const holds = above ? f.value >= bound : f.value <= bound;
  return `${f.name.padEnd(44)} ${String(f.value).padStart(9)} ${f.unit.padEnd(8)} ${above ? '≥' : '≤'} ${String(bound).padEnd(6)} ${holds ? 'holds' : 'DOES NOT HOLD'}`;
}

const words = process.argv.slice(2);
const at = words.indexOf('--json');
const file = at >= 0 ? words.splice(at, 2)[1] : undefined;
const wanted = words.length > 0 ? words : Object.keys(PARTS);
const unknown = wanted.find((w) => !(w in PARTS));
if (unknown) {
  process.stderr.write(`There is no part “${unknown}”. There are: ${Object.keys(PARTS).join(', ')}.\n`);
  process.exit(2);
}
const figures: Figure[] = [];
for (const part of wanted)
  for (const f of await PARTS[part]!()) {
    const rounded = { ...f, value: round(f.value) };
    figures.push(rounded);
    process.stdout.write(`${row(rounded)}\n`);
  }
if (file) writeFileSync(file, JSON.stringify(figures, null, 1) + '\n');
