import { Editor } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';
import * as Y from 'yjs';
import { soon } from '../testing/soon';
import { SharedText } from './shared-text';

let doc: Y.Doc;
let shared: SharedText;
let editor: Editor;

const words = (of: Y.Doc = doc): string => of.getXmlFragment('note').toString().replace(/<[^>]*>/g, ''); // prettier-ignore
const type = (letters: string): void => {
  for (const letter of letters) editor.view.dispatch(editor.state.tr.insertText(letter));
};
/** What somebody else wrote of the same text, as it comes in. */
function hear(change: (theirs: Y.XmlFragment) => void): void {
  const theirs = new Y.Doc();
  Y.applyUpdate(theirs, Y.encodeStateAsUpdate(doc));
  change(theirs.getXmlFragment('note'));
  Y.applyUpdate(doc, Y.encodeStateAsUpdate(theirs), 'server');
}

beforeEach(() => {
  doc = new Y.Doc();
  shared = new SharedText(doc.getXmlFragment('note'));
  editor = new Editor({ extensions: [StarterKit.configure({ undoRedo: false }), ...shared.extensions] });
});
afterEach(() => {
  editor.destroy();
  shared.end();
});

describe('a text that several write at once', () => {
  it('has a letter once it is seen, by itself and whole', async () => {
    type('reed');
    // The last one is in the editor alone; those before it went with the next.
    expect([editor.getText(), words()]).toEqual(['reed', 'ree']);
    await soon(() => expect(words()).toBe('reed'));
  });

  it('has all that was typed as soon as somebody asks, the page is left, or the editor goes', () => {
    type('reed');
    shared.flush();
    expect(words()).toBe('reed');
    type('s');
    globalThis.dispatchEvent(new Event('pagehide'));
    expect(words()).toBe('reeds');
    type('!');
    editor.destroy();
    expect(words()).toBe('reeds!');
  });

  it('takes what others write beside what was typed a moment before', () => {
    type('reed');
    shared.flush();
    hear((theirs) => {
      const paragraph = new Y.XmlElement('paragraph');
      paragraph.insert(0, [new Y.XmlText('moss')]);
      theirs.push([paragraph]);
    });
    expect(editor.getText({ blockSeparator: ' ' })).toBe('reed moss');
    type('s');
    shared.flush();
    expect(words()).toBe('reedsmoss');
  });

  it('takes back the very last letter too, and brings it again', () => {
    type('reed');
    editor.commands.undo();
    expect([editor.getText(), words()]).toEqual(['', '']);
    editor.commands.redo();
    expect([editor.getText(), words()]).toEqual(['reed', 'reed']);
  });

  it('tells of each step with an origin of its own, so that what one wrote oneself is sent and nothing else is', () => {
    const origins: unknown[] = [];
    doc.on('update', (_update: Uint8Array, origin: unknown) => origins.push(origin === 'server' ? 'server' : 'own'));
    type('r');
    shared.flush();
    hear((theirs) => theirs.push([new Y.XmlElement('paragraph')]));
    type('s');
    shared.flush();
    expect(origins).toEqual(['own', 'server', 'own']);
  });
});
