import { bookFor, plainBook, veiledAddress, veiledIn } from './veil';

const hidden = { id: 'soil-pit', namesHidden: true };
const open = { id: 'report', namesHidden: false };
const to = (address: string) => veiledAddress(address, [hidden, open]);

describe('where a book is looked at without names', () => {
  it('is an address of its own for each assessment', () => {
    expect([bookFor('fens', hidden), bookFor('fens', open), bookFor('fens~soil-pit', open)]).toEqual(['fens~soil-pit', 'fens', 'fens']); // prettier-ignore
    expect([veiledIn('fens~soil-pit'), veiledIn('fens'), plainBook('fens~soil-pit')]).toEqual(['soil-pit', '', 'fens']);
  });

  it('is found from the address by name, without who was looked at', () => {
    expect(to('/book/fens/marking/soil-pit?student=s1')).toBe('/book/fens~soil-pit/marking/soil-pit');
    expect(to('/book/fens/marking/soil-pit/sheet')).toBe('/book/fens~soil-pit/marking/soil-pit/sheet');
    expect(to('/book/fens/assessments/soil-pit/arrivals?student=s1')).toBe('/book/fens~soil-pit/assessments/soil-pit/arrivals'); // prettier-ignore
    expect(to('/book/fens/assessments/soil-pit/rubric')).toBe('/book/fens~soil-pit/assessments/soil-pit/rubric');
  });

  it('is left where the page is by name, and once names are shown', () => {
    expect(to('/book/fens~soil-pit/ledger')).toBe('/book/fens/ledger');
    expect(to('/book/fens~soil-pit/assessments/soil-pit')).toBe('/book/fens/assessments/soil-pit');
    expect(to('/book/fens~report/marking/report?student=r-1')).toBe('/book/fens/marking/report');
    expect(to('/book/fens~soil-pit/marking/report')).toBe('/book/fens/marking/report');
    expect(to('/book/fens~gone/exceptions')).toBe('/book/fens/exceptions');
  });

  it('stays as it is where it is right', () => {
    for (const address of [
      '/book/fens~soil-pit/marking/soil-pit?student=r-1',
      '/book/fens~soil-pit/exceptions?make=extension&assessment=soil-pit&student=r-1',
      '/book/fens/ledger?assessment=soil-pit',
      '/book/fens/marking',
      '/book/fens/assessments/soil-pit',
      '/book/fens/marking/report?student=s1#part',
      '/desk',
    ])
      expect(to(address)).toBeNull();
  });
});
