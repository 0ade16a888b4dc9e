import { fits, found } from './find-words';

const entries = ['Achterberg, Ruben', 'Soil pit', 'Soil Science 1', 'Release this assessment', 'Éklund, Signe'].map(
  (text) => ({ text }),
);
const names = (typed: string): string[] => found(entries, typed, 3).map((e) => e.text);

describe('finding by words', () => {
  it('takes every word, without accents, the beginnings first', () => {
    expect(names('soil')).toEqual(['Soil pit', 'Soil Science 1']);
    expect(names('sci soil')).toEqual(['Soil Science 1']);
    expect(names('ekl')).toEqual(['Éklund, Signe']);
    expect(names('ru')).toEqual(['Achterberg, Ruben']);
    expect(names('nobody')).toEqual([]);
  });

  it('gives the first few where nothing is typed', () => expect(names('')).toHaveLength(3));
  it('puts the whole word over its beginning, and that over its middle', () => {
    expect(fits('soil pit', 'pit')).toBeGreaterThan(fits('soil pitch', 'pit'));
    expect(fits('soil pitch', 'pit')).toBeGreaterThan(fits('spitfire', 'pit'));
  });
});
