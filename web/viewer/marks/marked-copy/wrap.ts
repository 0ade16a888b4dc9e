/** Words in lines that fit; a word that is longer than a line is cut. */
export function wrap(words: string, fits: (line: string) => boolean): string[] {
  const lines: string[] = [];
  let line = '';
  for (let word of words.split(/\s+/)) {
    if (line !== '' && fits(`${line} ${word}`)) line += ` ${word}`;
    else {
      if (line !== '') lines.push(line);
      while (!fits(word) && [...word].length > 1) {
        let cut = 1;
        const letters = [...word];
        while (cut < letters.length - 1 && fits(letters.slice(0, cut + 1).join(''))) cut++;
        lines.push(letters.slice(0, cut).join(''));
        word = letters.slice(cut).join('');
      }
      line = word;
    }
  }
  return [...lines, line];
}
