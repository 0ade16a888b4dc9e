import { computed, inject, Injectable, resource, signal } from '@angular/core';
import { groupsOf } from '@core/book/document';
import type { AssessmentContext, AssessmentLine } from '@core/import/new-assessment';
import type { Template } from '@contract/assessments';
import type { WorkSettings } from '@contract/work/submissions';
import { plain } from '../ui/text/find-words';
import { readDay } from '../ui/text/read-day';
import { groupTitle } from '../ui/text/group-title';
import { Api, newOperation, messageOf } from './api';
import { Operations } from './operations';
import { BookStore } from './book';
import type { NewAssessment } from '@contract/assessments';

/** How it is handed in: as the line says, or as what it takes after; else here where there is a day to hand it in on. */
function handingIn({ handedIn, like, due }: AssessmentLine): { takesWork: boolean; work?: WorkSettings } {
  if (handedIn === undefined)
    return { takesWork: like?.takesWork ?? due !== null, ...(like?.work ? { work: like.work } : {}) };
  if (handedIn === 'here') return { takesWork: true };
  if (handedIn === 'files' || handedIn === 'text' || handedIn === 'link')
    return { takesWork: true, work: { kinds: [handedIn] } };
  return { takesWork: false, ...(handedIn === 'room' ? {} : { work: { elsewhere: handedIn } }) };
}

/** The making of an assessment in the open book. Each page that makes some has its own. */
@Injectable()
export class AssessmentMaker {
  private readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  readonly busy = signal(false);
  /** Why it could not be made; empty again once something else is wanted. */
  readonly failure = signal('');
  /** What was tried last: trying the same again makes it once. */
  private tried: { line: string; id: string } | null = null;

  /** What the person makes assessments from; their absence stops nobody. */
  private readonly kept = resource({ loader: () => this.api.get<Template[]>('/templates') });
  private readonly templates = computed(() => {
    const kept = this.kept.hasValue() ? this.kept.value() : [];
    return Array.isArray(kept) ? kept.map(({ title, body }) => ({ title, ...body })) : [];
  });

  /** Categories that hold work of their own, not those that are made of others. */
  readonly categories = computed(() => {
    const tree = this.store.rules()?.tree;
    return tree
      ? groupsOf(tree)
          .filter((g) => g !== tree && !g.children.some((c) => c.type === 'group'))
          .map((g) => ({ id: g.id, title: groupTitle(g) }))
      : [];
  });

  /** What a line is read by, with the category under the cursor as the usual one. */
  context(usual: string | null): AssessmentContext | null {
    const page = this.store.page();
    if (!page) return null;
    const last = [...page.assessments].reverse().find((a) => a.due !== null);
    return {
      categories: this.categories(),
      known: page.assessments,
      templates: this.templates(),
      usual,
      day: (text) => readDay(text, { zone: page.timeZone, near: page.asOf, like: last?.due }),
    };
  }

  /** Makes it and loads the book anew; gives its id, or null where it could not be made. */
  async make(line: AssessmentLine): Promise<string | null> {
    if (this.busy()) return null;
    const text = JSON.stringify(line);
    if (this.tried?.line !== text) this.tried = { line: text, id: idOf(line.title, newOperation()) };
    const { id } = this.tried;
    this.busy.set(true);
    this.failure.set('');
    try {
      await this.operations.submit('POST', `/books/${this.store.id()}/assessments`, {
        id,
        title: line.title,
        category: line.category,
        points: line.points,
        due: line.due,
        closes: null,
        ...handingIn(line),
        more: {
          ...line.like?.more,
          ...(line.extraCredit ? { extraCredit: true } : {}),
          ...(line.counts ? {} : { counts: false }),
        },
      } satisfies Omit<NewAssessment, 'operation'>);
      this.tried = null;
      await this.store.reload();
      return id;
    } catch (error) {
      this.failure.set(messageOf(error));
      return null;
    } finally {
      this.busy.set(false);
    }
  }
}

/** The title in plain letters, with what tells it from another of that title. */
const idOf = (title: string, unique: string): string =>
  `${
    plain(title)
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 40) || 'assessment'
  }-${unique.replace(/-/g, '').slice(-6)}`;
