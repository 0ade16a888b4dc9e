import { Type } from '@sinclair/typebox';
import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import { CANNOT, frameWay, insertRules, type JournalKindDefinition } from '../books';

export const ruleKinds: JournalKindDefinition[] = [
  {
    kind: 'rules',
    version: 1,
    // The rules of docs/formats/rules.md, which the core checks: words of the book alone.
    format: Type.Object({ tree: Type.Object({}, { 'x-words': 'book' }) }, { 'x-words': 'book' }),
    topic: 'rules',
    live: 'document',
    managed: true,
    madeNew: CANNOT,
    putBack: frameWay({
      text: (_, now) => canonical(now.rules),
      restore(db, { school, book, person }, l, now, reason) {
        const rules = JSON.parse(l.was!) as RulesPart;
        now.rules = rules;
        now.row = { ...now.row, rulesVersion: now.row.rulesVersion + 1 };
        const version = now.row.rulesVersion;
        return insertRules(db, { school, book, version, rules, by: person, reason: reason || 'put back' });
      },
    }),
  },
];
