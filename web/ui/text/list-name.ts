/** Somebody's name as lists have it: "Farrelly, Con"; of one who has a single name, that. */
export const listName = (p: { family: string; given: string }): string =>
  p.given ? `${p.family}, ${p.given}` : p.family;
