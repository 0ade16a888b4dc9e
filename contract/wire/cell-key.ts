/** The place of a cell as one text, for maps and sets. The one form of it: enrolment first. */
export const cellKey = (enrolment: string, assessment: string): string => `${enrolment} ${assessment}`;
