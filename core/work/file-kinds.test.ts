import { describe, expect, it } from 'vitest';
import { FILE_KINDS, kindByName, kindOfFile, oddAboutFile } from './file-kinds';

const DOCX = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';
const file = (name: string, mediaType: string | null, bytes = 10) => ({ name, mediaType, bytes });

describe('what a file is', () => {
  it('is said by its content, and by its name where content can be several things', () => {
    for (const [name, type, kind] of [
      ['report.pdf', 'application/pdf', 'pdf'],
      ['IMG_2214.HEIC', 'image/heic', 'photograph'],
      ['scores.csv', 'text/plain', 'sheet'],
      ['survey.py', 'text/plain', 'code'],
      ['report.docx', 'text/plain', 'text'],
      ['table.xlsx', 'text/plain', 'text'],
      ['notes', 'text/plain', 'text'],
      ['page.svg', 'application/xml', 'code'],
      ['old.doc', 'application/x-cfb', 'document'],
      ['old.xls', 'application/x-cfb', 'sheet'],
      ['voice.ogg', 'audio/ogg', 'audio'],
      ['report.docx', 'application/zip', 'document'],
      ['strange.bin', null, null],
      ['.pdf', 'application/pdf', 'pdf'],
    ] as const)
      expect([name, kindOfFile(name, type)]).toEqual([name, kind]);
    expect(kindByName('.pdf')).toBeNull();
    for (const kind of FILE_KINDS) expect(kindByName(`x.${kind === 'pdf' ? 'pdf' : 'zzz'}`)).toBe(kind === 'pdf' ? 'pdf' : null); // prettier-ignore
  });

  it('is told to its student where it is not what it is called, not what is taken, or nothing at all', () => {
    expect(oddAboutFile(file('report.pdf', 'application/pdf'), undefined)).toBeNull();
    expect(oddAboutFile(file('report.pdf', 'application/pdf'), ['pdf', 'photograph'])).toBeNull();
    expect(oddAboutFile(file('report.pdf', DOCX), ['pdf'])).toBe(
      'report.pdf is a word-processor document; taken here: PDF.',
    );
    expect(oddAboutFile(file('report.pdf', 'image/png'), undefined)).toContain(
      'is called a PDF and is a photograph inside',
    );
    expect(oddAboutFile(file('x.bin', null), ['pdf'])).toContain('is nothing that can be told');
    expect(oddAboutFile(file('x.bin', null), undefined)).toBeNull();
    expect(oddAboutFile(file('a\u202efdp.exe', 'application/pdf'), undefined)).toContain('it ends in .exe');
    expect(oddAboutFile(file('empty.pdf', null, 0), undefined)).toContain('is empty');
    expect(oddAboutFile({ ...file('sheet.docx', DOCX), isBlankWorksheet: true }, undefined)).toBe(
      'sheet.docx is the worksheet as it was given out: nothing in it was changed.',
    );
  });
});
