import { SaxesParser } from 'saxes';

/** What is met in a text in XML, in its order. Names are as written, with their prefixes. */
export interface XmlHandlers {
  open?(name: string, attributes: Readonly<Record<string, string>>): void;
  close?(name: string): void;
  text?(text: string): void;
}

/** Reads XML without a tree. Entities of its own are not resolved: a document type that names some is refused. */
export function readXml(xml: string, handlers: XmlHandlers): void {
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw error;
  });
  parser.on('doctype', (doctype) => {
    if (doctype.includes('<!ENTITY')) throw new Error('It declares entities.');
  });
  parser.on('opentag', (tag) => handlers.open?.(tag.name, tag.attributes));
  parser.on('closetag', (tag) => handlers.close?.(tag.name));
  parser.on('text', (text) => handlers.text?.(text));
  parser.on('cdata', (text) => handlers.text?.(text));
  parser.write(xml).close();
}
