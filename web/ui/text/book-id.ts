import { plain } from './find-words';

/** A new book's id: its title in plain letters, with what tells it from another of that title. */
export const bookId = (title: string): string =>
  `${
    plain(title)
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 50) || 'book'
  }-${crypto.randomUUID().slice(0, 6)}`;
