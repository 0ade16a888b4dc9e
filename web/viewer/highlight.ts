import highlighter from 'highlight.js/lib/common';
import matlab from 'highlight.js/lib/languages/matlab';

highlighter.registerLanguage('matlab', matlab);

/** Characters above which code stays in one colour. */
const MOST = 200_000;

export interface CodePart {
  text: string;
  /** Classes of its colour; '' none. */
  look: string;
}

/** Code in the parts that are coloured alike; text alone, never markup of its own. */
export function highlight(text: string, language: string): CodePart[] {
  if (text.length > MOST || !highlighter.getLanguage(language)) return [{ text, look: '' }];
  const { value } = highlighter.highlight(text, { language, ignoreIllegals: true });
  const parts: CodePart[] = [];
  const collect = (node: Node, look: string): void => {
    for (const child of node.childNodes)
      if (child.nodeType === Node.TEXT_NODE) parts.push({ text: child.textContent ?? '', look });
      else collect(child, (child as Element).className || look);
  };
  // Read as markup without being put into the page: what comes out are its texts.
  collect(new DOMParser().parseFromString(`<pre>${value}</pre>`, 'text/html').body.firstChild!, '');
  return parts;
}
