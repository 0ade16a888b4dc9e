/** A text as it is searched: without case, accents, spaces and soft hyphens, and where each of its letters stood. */
export interface FoldedText {
  text: string;
  /** By letter: its place in the text as it was. */
  at: number[];
}

const LEFT_OUT = /[\s\u00ad\p{M}]/u;

export function foldText(text: string): FoldedText {
  let folded = '';
  const at: number[] = [];
  let i = 0;
  for (const letter of text) {
    for (const plain of letter.normalize('NFKD').toLowerCase())
      if (!LEFT_OUT.test(plain)) {
        folded += plain;
        for (let n = 0; n < plain.length; n++) at.push(i);
      }
    i += letter.length;
  }
  return { text: folded, at };
}

/** Where what is looked for stands in a text, from its first letter to behind its last, each after the one before. */
export function matchesIn(folded: FoldedText, wanted: string): { start: number; end: number }[] {
  const { text } = foldText(wanted);
  const found: { start: number; end: number }[] = [];
  if (text === '') return found;
  for (let i = folded.text.indexOf(text); i >= 0; i = folded.text.indexOf(text, i + text.length))
    found.push({ start: folded.at[i]!, end: folded.at[i + text.length - 1]! + 1 });
  return found;
}
