/** One assessment of a release, and the students whom it is about. */
export interface ReleaseColumn {
  assessment: string;
  enrolments: readonly string[];
}

/** The same as the server is told. */
export const placesOf = (columns: readonly ReleaseColumn[]): { assessment: string; enrolments: string[] }[] =>
  columns.map(({ assessment, enrolments }) => ({ assessment, enrolments: [...enrolments] }));

/** "Soil pit", "Soil pit and Check 2", "Soil pit and 3 more". */
export function titlesOf(
  columns: readonly ReleaseColumn[],
  assessments: ReadonlyMap<string, { title: string }>,
): string {
  const titles = columns.map((c) => assessments.get(c.assessment)?.title ?? '');
  if (titles.length < 3) return titles.join(' and ');
  return `${titles[0]!} and ${titles.length - 1} more`;
}
