import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import { computeBook } from '@core/calculation/result';
import { OPEN_SCHOOL, type PolicyArea, type SchoolRules, type Enforcement } from '@core/policy/document';
import type { Sheet } from '@contract/books';
import type { SchoolRulesMade, SchoolRulesState, PolicyRollout } from '@contract/policy';
import { operation } from './person';
import type { TestSchool } from './school';

/** A school that says something of some matters. */
export const says = (
  stands: Partial<Record<PolicyArea, Enforcement>>,
  more: Partial<SchoolRules> = {},
): SchoolRules => ({
  ...OPEN_SCHOOL,
  ...more,
  rules: { ...OPEN_SCHOOL.rules, ...more.rules },
  stands: { ...OPEN_SCHOOL.stands, ...stands },
});

/** Sets of named marks of a school: the first is worth 100 %, each next one 50 less. */
export const words = (labels: string[]): NonNullable<SchoolRules['rules']> => ({
  marks: { words: labels.map((label, i) => ({ label, percent: 100 - 50 * i })) },
});

/** What the office of a test school does with its rules, and what then stands in its books. */
export class OfficeRules {
  constructor(private readonly school: TestSchool) {}

  /** Scores in "fens", some of them of late work. */
  async scores(): Promise<void> {
    const { put, adaId, benId } = this.school;
    await put('moss', adaId, 0, { kind: 'score', points: 16 });
    await put('moss', adaId, 1, { kind: 'late-at', receivedAt: '2026-10-13T10:00:00Z' });
    await put('moss', benId, 0, { kind: 'score', points: 11 });
    await put('reed', benId, 0, { kind: 'score', points: 4.5 });
    await put('reed', benId, 1, { kind: 'late', units: 2 });
  }

  now(): Promise<SchoolRulesState> {
    return this.school.office.must<SchoolRulesState>('GET', '/school-rules');
  }

  /** A trial that is through. */
  async tryIt(rules: SchoolRules): Promise<PolicyRollout> {
    const id = operation();
    const { version } = await this.now();
    await this.school.office.must('POST', '/school-rules/rollouts', { id, version, rules });
    return this.through(id);
  }

  /** A version that is made and through. */
  async make(rules: SchoolRules, reason = 'the board says so'): Promise<PolicyRollout> {
    const { version } = await this.now();
    const write = { operation: operation(), version, reason, rules };
    return this.through((await this.school.office.must<SchoolRulesMade>('PUT', '/school-rules', write)).rollout);
  }

  private async through(rollout: string): Promise<PolicyRollout> {
    await this.school.doJobs();
    return this.school.office.must<PolicyRollout>('GET', `/school-rules/rollouts/${rollout}`);
  }

  /** The percentage and letter of each student, as one text. */
  async standings(book: string): Promise<Map<string, string>> {
    const { students } = computeBook((await this.sheet(book)).document);
    return new Map(students.map((s) => [s.id, canonical([s.percent === null ? null : Number(s.percent), s.letter])]));
  }

  async rulesOf(book: string): Promise<RulesPart> {
    return (await this.sheet(book)).document;
  }

  private sheet(book: string): Promise<Sheet> {
    return this.school.office.must<Sheet>('GET', `/books/${book}/sheet`);
  }

  /** An assessment of "fens" that is scored by the school's words. */
  viva(): Promise<unknown> {
    return this.school.teacher.must('POST', '/books/fens/assessments', {
      ...{ operation: operation(), id: 'viva', title: 'Viva', category: 'tests', points: 10 },
      ...{ due: null, closes: null, takesWork: false, more: { marks: 'words' } },
    });
  }

  /** A book of one term by the office, with the rules of all books of the test school where no others are given. */
  async book(id: string, term: string, rules: RulesPart): Promise<void> {
    const staff = [{ login: 'teacher', role: 'teacher' }];
    await this.school.office.must('POST', '/books', { id, term, title: id, sections: [], staff, rules });
  }
}
