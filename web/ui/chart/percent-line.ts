/** What of the percent line is drawn: below and above it nothing is told apart. */
const SHOWN = { from: 20, to: 105 };

/** Where a percent stands on a line from one pixel to another; what is beyond stands at its end. */
export const percentLine =
  (start: number, end: number) =>
  (percent: number): number =>
    start +
    ((Math.max(SHOWN.from, Math.min(SHOWN.to, percent)) - SHOWN.from) / (SHOWN.to - SHOWN.from)) * (end - start);
