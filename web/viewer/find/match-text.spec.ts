import { describe, expect, it } from 'vitest';
import { foldText, matchesIn } from './match-text';

const found = (text: string, wanted: string): string[] =>
  matchesIn(foldText(text), wanted).map(({ start, end }) => text.slice(start, end));

describe('words found in a text', () => {
  it('are found whatever their case, accents, spaces and line breaks are', () => {
    expect(found('The Water\n table; a watertable, water  Table.', 'water table')).toEqual([
      'Water\n table',
      'watertable',
      'water  Table',
    ]);
    expect(found('Gefäß, GEFASS', 'gefäß')).toEqual(['Gefäß']);
    expect(found('Café and cafe', 'CAFE')).toEqual(['Café', 'cafe']);
    expect(found('so\u00adil and soil', 'soil')).toEqual(['so\u00adil', 'soil']);
  });

  it('are where they stand, in any script, each once', () => {
    expect(found('aaaa', 'aa')).toEqual(['aa', 'aa']);
    expect(found('𝒳 湿地の土 𝒳', '湿地')).toEqual(['湿地']);
    expect(found('the ﬁrst', 'first')).toEqual(['ﬁrst']);
    expect(found('anything', '  ')).toEqual([]);
    expect(found('', 'x')).toEqual([]);
  });
});
