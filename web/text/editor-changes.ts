import type { Editor } from '@tiptap/core';

/** Words as a paragraph of their own at the end. The cursor stays where it is. */
export function appendParagraph(editor: Editor, words: string): void {
  const last = editor.state.doc.lastChild;
  const end = editor.state.doc.content.size;
  const paragraph = { type: 'paragraph', content: [{ type: 'text', text: words }] };
  // An empty last line is where one would go on writing.
  if (last?.isTextblock && last.content.size === 0)
    editor.commands.insertContentAt({ from: end - last.nodeSize, to: end }, paragraph);
  else editor.commands.insertContentAt(end, paragraph);
}

/** Goes on with the last line by these words. The cursor stays where it is. */
export function appendWords(editor: Editor, words: string): void {
  const last = editor.state.doc.lastChild;
  if (!last?.isTextblock) return appendParagraph(editor, words);
  const text = last.textContent === '' || /\s$/.test(last.textContent) ? words : ` ${words}`;
  editor.commands.insertContentAt(editor.state.doc.content.size - 1, { type: 'text', text });
}

/** Other words in the place of some, wherever they stand in one piece. False: nowhere. */
export function replaceWords({ state, view }: Editor, was: string, becomes: string): boolean {
  if (was === '') return false;
  const places: number[] = [];
  state.doc.descendants((node, pos) => {
    const text = node.text ?? '';
    for (let at = text.indexOf(was); at >= 0; at = text.indexOf(was, at + was.length)) places.push(pos + at);
  });
  const change = state.tr;
  // From the end: what comes before stays where it is.
  for (const at of places.toReversed()) change.insertText(becomes, at, at + was.length);
  if (places.length > 0) view.dispatch(change);
  return places.length > 0;
}

/** Goes on writing at the end, with a first character. */
export function writeAtEnd(editor: Editor, character: string): void {
  const { view, state } = editor;
  view.focus();
  const last = state.doc.lastChild;
  if (!last?.isTextblock) editor.commands.insertContentAt(state.doc.content.size, { type: 'paragraph' });
  editor.commands.setTextSelection(editor.state.doc.content.size - 1);
  editor.commands.insertContent({ type: 'text', text: character });
}

/** What is chosen, else the line that the cursor stands in. */
export function chosenWords({ state }: Editor): string {
  const { from, to, empty, $from } = state.selection;
  return (empty ? $from.parent.textContent : state.doc.textBetween(from, to, ' ')).trim();
}
