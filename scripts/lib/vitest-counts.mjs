import { writeFileSync } from 'node:fs';

/** The same for Vitest. A file that could not be run at all counts as one failure. */
export default class Counts {
  onTestRunEnd(modules, unhandled) {
    const counts = { passed: 0, failed: unhandled.length, skipped: 0 };
    for (const module of modules) {
      if (module.errors().length > 0) counts.failed++;
      for (const test of module.children.allTests()) {
        const state = test.result().state;
        if (state === 'passed') counts.passed++;
        else if (state === 'skipped') counts.skipped++;
        else counts.failed++;
      }
    }
    if (process.env.COUNTS) writeFileSync(process.env.COUNTS, JSON.stringify(counts));
  }
}
