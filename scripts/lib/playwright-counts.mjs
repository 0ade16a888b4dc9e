import { writeFileSync } from 'node:fs';

/** Writes how many tests passed and failed to the file named in COUNTS, for the closing line of npm test. */
export default class Counts {
  passed = 0;
  failed = 0;
  skipped = 0;
  names = [];

  onTestEnd(test, result) {
    const last = result.retry === test.retries || result.status === 'passed' || result.status === 'skipped';
    if (!last) return;
    if (result.status === 'skipped') this.skipped++;
    else if (result.status === test.expectedStatus) this.passed++;
    else {
      this.failed++;
      this.names.push(`${test.titlePath().filter(Boolean).join(' › ')}: ${result.error?.message ?? result.status}`);
    }
  }

  onEnd() {
    if (process.env.COUNTS)
      writeFileSync(
        process.env.COUNTS,
        JSON.stringify({ passed: this.passed, failed: this.failed, skipped: this.skipped, names: this.names }),
      );
  }
}
