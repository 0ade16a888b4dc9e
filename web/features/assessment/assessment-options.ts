import { computed, inject, Injectable } from '@angular/core';
import { BUILT_IN_MARKS } from '@core/book/built-in-marks';
import { groupsOf } from '@core/book/document';
import { BookStore } from '../../data/book';
import { optionsOf, type ChoiceOption } from '../../ui/form/choice';
import { groupTitle } from '../../ui/text/group-title';
import { SchoolChoices } from './school-choices';

/** The words of a sentence that are one of a few. */
export const WORDS = {
  counts: [
    { value: 'counts', text: 'counts' },
    { value: 'extra', text: 'is extra credit' },
    { value: 'shown', text: 'is only shown, and counts nowhere' },
  ],
  dropped: [
    { value: 'may', text: 'may drop it' },
    { value: 'never', text: 'always keeps it' },
  ],
  takesWork: [
    { value: 'here', text: 'handed in here' },
    { value: 'room', text: 'on paper or in the room' },
    { value: 'tool', text: 'done in another tool' },
    { value: 'nothing', text: 'not handed in at all' },
  ],
  shown: [
    { value: 'see', text: 'see that there is this assessment' },
    { value: 'not', text: 'do not see it yet' },
  ],
  markers: [
    { value: 'named', text: 'read who marked it' },
    { value: 'hidden', text: 'do not read who marked it' },
  ],
  names: [
    { value: 'said', text: 'by name' },
    { value: 'hidden', text: 'without names, until they are shown' },
  ],
  use: [
    { value: 'best', text: 'the best' },
    { value: 'latest', text: 'the latest' },
    { value: 'first', text: 'the first' },
    { value: 'mean', text: 'their mean' },
    { value: 'decaying', text: 'the newest most' },
    { value: 'regain', text: 'the first, with part won back' },
  ],
};

/** What can be chosen for an assessment of the open book. */
@Injectable()
export class AssessmentOptions {
  private readonly store = inject(BookStore);
  private readonly school = inject(SchoolChoices);
  readonly categories = computed(() => {
    const tree = this.store.rules()?.tree;
    return tree
      ? groupsOf(tree)
          .filter((g) => g !== tree)
          .map((g) => ({ id: g.id, title: groupTitle(g), weights: g.combine === 'weights' }))
      : [];
  });
  private readonly markSets = computed(() => {
    const own = Object.keys(this.store.rules()?.rules?.marks ?? {});
    return [...new Set([...own, ...Object.keys(BUILT_IN_MARKS)])].map((name) => ({
      name,
      labels: (this.store.rules()?.rules?.marks?.[name] ?? BUILT_IN_MARKS[name] ?? []).map((m) => m.label).join(' / '),
    }));
  });
  readonly all = computed(() => ({
    category: optionsOf(this.categories()),
    marks: [
      { value: '', text: 'in points or percent' },
      ...this.markSets().map((m) => ({ value: m.name, text: `as ${m.labels}` })),
    ],
    late: [
      { value: '*', text: 'the rule of its category' },
      { value: '-', text: 'no rule: nothing is taken', disabled: this.school.shut('late', null) },
      ...this.ruleOptions('late', this.store.rules()?.rules?.late),
    ],
    blank: [
      { value: '*', text: 'the rule of its category' },
      ...this.ruleOptions('blank', this.store.rules()?.rules?.blank),
    ],
  }));

  private ruleOptions(kind: 'late' | 'blank', rules: object | undefined): ChoiceOption[] {
    return Object.keys(rules ?? {}).map((r) => ({
      value: r,
      text: `the rule “${r}”`,
      disabled: this.school.shut(kind, r),
    }));
  }
}
