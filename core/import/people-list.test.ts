import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readPeople } from './people-list';

const bare = (text: string, sections?: string[]) =>
  readPeople(text, sections).people.map(({ line: _l, ...p }) => Object.values(p).join('|'));

describe('a list of people', () => {
  it('is read with headings in any order, with any delimiter', () => {
    expect(bare('Number;Surname;First name;E-mail;Section\nB1;Farrelly;Con;con@b.example;North\n')).toEqual([
      'Farrelly|Con|B1|con@b.example|North',
    ]);
    expect(bare('Student\tMail\nFarrelly, Con\tcon@b.example')).toEqual(['Farrelly|Con||con@b.example|']);
    expect(bare('"Name","Student number","Remark"\n"Wren, Ida","B2","left early"')).toEqual(['Wren|Ida|B2||']);
  });

  it('is read without headings by what the cells look like', () => {
    expect(
      bare('B1\tFarrelly\tCon\tcon@b.example\tNorth\nB2\tWren\tIda\tida@b.example\tSouth', ['North', 'South']),
    ).toEqual(['Farrelly|Con|B1|con@b.example|North', 'Wren|Ida|B2|ida@b.example|South']);
  });

  it('is read as typed, a name to a line', () => {
    expect(bare('Con Farrelly\nIda Wren')).toEqual(['Farrelly|Con|||', 'Wren|Ida|||']);
    expect(bare('Farrelly, Con\nWren, Ida')).toEqual(['Farrelly|Con|||', 'Wren|Ida|||']);
  });

  it('loses nobody and makes nobody, whatever the names', () => {
    const name = fc.stringMatching(/^[A-ZÀ-Ý][a-zà-ÿ'-]{1,12}$/);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(name, name, fc.integer({ min: 1000, max: 9999 })), { minLength: 1, maxLength: 40 }),
        fc.constantFrom('\t', ';', ','),
        fc.boolean(),
        (people, delimiter, headed) => {
          const rows = people.map(([family, given, n]) => [`B${n}`, family, given].join(delimiter));
          const text = [...(headed ? [['Number', 'Family name', 'Given name'].join(delimiter)] : []), ...rows].join(
            '\n',
          );
          expect(bare(text)).toEqual(people.map(([family, given, n]) => `${family}|${given}|B${n}||`));
        },
      ),
    );
  });

  it('takes nobody for a heading, whose name has a heading’s word in it', () => {
    expect(bare('Aà\tÀnamea\tB1000\nÀ-\tAl\tB1001')).toHaveLength(2);
    expect(bare('Forester\tAnn\nMailer\tJo')).toEqual(['Forester|Ann|||', 'Mailer|Jo|||']);
    expect(bare('B1\tLast\tFirst\nB2\tSet\tNo')).toHaveLength(2);
    expect(bare('Surname\tForename\tStudent ID\tE-mail\nWren\tIda\tB2\tida@b.example')).toEqual([
      'Wren|Ida|B2|ida@b.example|',
    ]);
  });

  it('keeps the sections of a list in which a column is empty', () => {
    const read = readPeople('Wren, Ida\tB1\t\tNorth\nFinch, Bo\tB2\t\tSouth', ['North', 'South']);
    expect(read.people.map((p) => [p.family, p.number, p.mail, p.section])).toEqual([
      ['Wren', 'B1', '', 'North'],
      ['Finch', 'B2', '', 'South'],
    ]);
    expect(readPeople('Wren, Ida\tB1\t\tNorth\nFinch, Bo\tB2\t\tSouth').people.map((p) => p.section)).toEqual(['North', 'South']); // prettier-ignore
  });

  it('of nothing is nobody', () => {
    expect(readPeople('').people).toEqual([]);
    expect(readPeople('\n \n').people).toEqual([]);
  });
});
