import type { PDFFont } from '@cantoo/pdf-lib';

/** Which letters a font has, and how wide words are in it. */
export class Letters {
  private readonly known: ReadonlySet<number>;

  constructor(private readonly font: PDFFont) {
    this.known = new Set(font.getCharacterSet());
  }

  has(words: string): boolean {
    return [...words].every((letter) => this.known.has(letter.codePointAt(0)!));
  }

  widthOf(words: string, size: number): number {
    // Letters that it lacks are nearly as wide as they are high, at most.
    return this.has(words) ? this.font.widthOfTextAtSize(words, size) : [...words].length * size * 0.8;
  }
}
