import { describe, expect, it } from 'vitest';
import { fillLetter, namedPlaces, unknownPlaces } from './letter-places';

const values = { given: 'Ada', family: 'Adler', assessment: 'Moss', due: '10 Oct 17:00' };

describe('the words of a letter', () => {
  it('are filled in for a student', () => {
    expect(fillLetter('Dear {given} {family}, {assessment} was due {due}.', values)).toBe(
      'Dear Ada Adler, Moss was due 10 Oct 17:00.',
    );
  });

  it('stay as they are where nothing is left open, and what is filled in opens nothing', () => {
    expect(fillLetter('{ } {} { given }', values)).toBe('{ } {} { given }');
    expect(fillLetter('{given}', { ...values, given: '{family} $1 $&' })).toBe('{family} $1 $&');
    expect(fillLetter('{toString} {__proto__}', values)).toBe('{toString} {__proto__}');
  });

  it('name what they leave open, and what nobody knows', () => {
    expect(namedPlaces('{due} and {given}')).toEqual(['given', 'due']);
    expect(unknownPlaces('{score} {due} {score} {letter}')).toEqual(['score', 'letter']);
  });
});
