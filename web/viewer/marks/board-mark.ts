import type { WorkMark } from '@core/marks/work-mark';

/** A mark as a surface shows it. */
export interface BoardMark {
  id: string;
  mark: WorkMark;
  by: string;
}
