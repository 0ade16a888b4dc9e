const DELAYS = [500, 1_000, 2_000, 5_000, 10_000];

/** Milliseconds until the next try: longer each time, and not at one moment for all who lost the line together. */
export const retryDelay = (failures: number): number =>
  DELAYS[Math.min(failures, DELAYS.length - 1)]! * (0.8 + 0.4 * Math.random());
