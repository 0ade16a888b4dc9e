import { writeFileSync } from 'node:fs';

/** The same for Vitest. A file that could not be run at all counts as one failure. */
export default class Counts {
  onTestRunEnd(modules, unhandled) {
    const counts = { passed: 0, failed: unhandled.length, skipped: 0, names: unhandled.map((e) => String(e.message)) };
    for (const module of modules) {
      if (module.errors().length > 0) {
        counts.failed++;
        counts.names.push(module.moduleId);
      }
      for (const test of module.children.allTests()) {
        const state = test.result().state;
        if (state === 'passed') counts.passed++;
        else if (state === 'skipped') counts.skipped++;
        else {
          counts.failed++;
          counts.names.push(`${module.moduleId} › ${test.fullName}: ${test.result().errors?.[0]?.message ?? state}`);
        }
      }
    }
    if (process.env.COUNTS) writeFileSync(process.env.COUNTS, JSON.stringify(counts));
  }
}
