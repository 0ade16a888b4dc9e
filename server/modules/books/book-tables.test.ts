import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

describe('a book’s tables', () => {
  /** Whose change alters the book document, what a student reads, people, rules or the fate of work. */
  const TABLES = ['section', 'book_staff', 'enrolment', 'rules_version', 'assessment', 'entry', 'attempt', 'override', 'released_entry', 'student_statement', 'batch', 'journal', 'journal_reason', 'exception_end', 'staff_note', 'student_group', 'student_group_member', 'note_text', 'released_skeleton', 'released_part', 'planned_release']; // prettier-ignore
  const root = join(import.meta.dirname, '..', '..');
  const sources = readdirSync(root, { recursive: true, encoding: 'utf8' })
    .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts') && !f.startsWith('testing/'))
    .map((f) => ({ file: f, text: readFileSync(join(root, f), 'utf8') }));

  it('are written by functions that only a commit can call', () => {
    const found = new Set<string>();
    for (const { file, text } of sources)
      for (const m of text.matchAll(/(?:insert into|update|delete from) (\w+)/g)) {
        if (!TABLES.includes(m[1]!)) continue;
        // The function that it stands in.
        const head = text.slice(0, m.index).split(/\n(?:export )?(?:async )?function /).pop()!; // prettier-ignore
        const name = /^\w+/.exec(head)?.[0] ?? '';
        const given = /^\w+\s*\(\s*(?:db: BookTransaction)/.test(head);
        // Pieces of a statement, which writes nothing by itself.
        const piece = ['writeParts', 'linesPart'].includes(name);
        if (!given && !piece) found.add(`${file}: ${name} writes ${m[1]}`);
      }
    expect([...found]).toEqual([]);
  });

  it('are opened for writing in one place, and by the batch of single cells', () => {
    const by = sources.filter((s) => /\basBookTransaction\(/.test(s.text)).map((s) => s.file);
    expect(by.sort()).toEqual(['modules/books/commit-book.ts', 'modules/scores/score-batch.ts']);
  });
});
