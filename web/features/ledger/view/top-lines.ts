import { computed, inject, Injectable } from '@angular/core';
import { BookAnnotations } from '../../../data/annotations';
import { dayAndTime } from '../../../ui/text/dates';
import type { MenuLine } from '../../../ui/form/menu-word';
import { LedgerView } from './ledger-view';
import { ONLY, toQuery } from './view-settings';

/** What the menus over the ledger offer, and the words that stand for what is chosen. */
@Injectable()
export class TopLines {
  private readonly view = inject(LedgerView);
  private readonly annotations = inject(BookAnnotations);
  private readonly look = this.view.settings;

  readonly sections = computed(() => this.view.store.page()?.sections ?? []);
  readonly sectionWord = computed(
    () => this.sections().find((s) => s.id === this.look().section)?.title ?? 'all sections',
  );
  readonly sectionLines = computed((): MenuLine[] => [
    { id: '*', text: 'all sections', kind: 'choice', on: this.look().section === null },
    ...this.sections().map(({ id, title }) => ({
      id,
      text: title,
      kind: 'choice' as const,
      on: this.look().section === id,
    })),
  ]);

  /** The assessment under the cursor, that words can be about. */
  readonly here = computed(() => {
    const item = this.view.place()?.item ?? null;
    return item === null ? null : (this.view.store.assessments().get(item) ?? null);
  });

  readonly whoWord = computed(() => {
    const { group, only, below, where } = this.look();
    const parts = [
      this.annotations.groups().find((g) => g.id === group)?.title,
      only === null ? undefined : ONLY.find((o) => o.id === only)!.label,
      below === null ? undefined : `below ${below}`,
    ].filter((p) => p !== undefined);
    const title = where === null || only === null ? '' : ` in ${this.view.store.assessments().get(where)?.title}`;
    return parts.length === 0 ? 'everyone' : `${parts.join(', ')}${title}`;
  });
  readonly whoLines = computed((): MenuLine[] => {
    const { group, only, below, where } = this.look();
    const here = this.here();
    const groups = this.annotations.groups();
    const may = this.view.store.mayScore();
    return [
      { id: '*', text: 'everyone', kind: 'choice', on: group === null && only === null && below === null },
      { id: 'h1', text: 'only those with', kind: 'head' },
      ...ONLY.map((o) => ({
        id: `only ${o.id}`,
        text: o.label,
        kind: 'choice' as const,
        on: only === o.id,
        ...(o.id === 'news' && this.annotations.sinceAt() ? { more: this.lastHere() } : {}),
      })),
      ...(here
        ? [
            {
              id: 'where',
              text: `in ${here.title} alone`,
              kind: 'check' as const,
              on: only !== null && where === here.id,
              disabled: only === null,
            },
          ]
        : []),
      { id: 'h2', text: 'standing', kind: 'head' },
      ...this.view
        .scale()
        .filter((b) => b.from > 0)
        .map((b) => ({
          id: `below ${b.label}`,
          text: `below ${b.label}`,
          kind: 'choice' as const,
          on: below === b.label,
        })),
      ...(groups.length > 0 || may ? [{ id: 'h3', text: 'groups of this book', kind: 'head' as const }] : []),
      ...groups.map((g) => ({
        id: `group ${g.id}`,
        text: g.title,
        kind: 'choice' as const,
        on: group === g.id,
        more: String(g.members.length),
      })),
      ...(may ? this.groupActs(group !== null) : []),
    ];
  });

  private lastHere(): string {
    return dayAndTime(this.annotations.sinceAt(), this.view.store.page()?.timeZone ?? 'UTC');
  }

  private groupActs(one: boolean): MenuLine[] {
    const selected = this.view.selection();
    const rows = selected.bottom - selected.top + 1;
    const some = rows > 1 ? `the ${rows} selected` : `all ${this.view.rows().length} listed`;
    return [
      { id: 'make', text: `make a group of ${some} …`, kind: 'act' },
      ...(one
        ? [
            { id: 'toggle', text: 'take the student here out of this group', kind: 'act' as const },
            { id: 'rename', text: 'rename this group …', kind: 'act' as const },
            { id: 'remove', text: 'take this group away', kind: 'act' as const, more: 'its students stay' },
          ]
        : []),
    ];
  }

  readonly sortWord = computed(() => {
    const { by, down } = this.look().sort;
    const what =
      { name: 'name', section: 'section', standing: 'standing' }[by] ?? this.view.store.assessments().get(by)?.title;
    return `by ${what ?? 'name'}${down ? ', highest first' : ''}`;
  });
  readonly sortLines = computed((): MenuLine[] => {
    const { by, down } = this.look().sort;
    const here = this.here();
    const ways = [
      { id: 'name', text: 'by name' },
      { id: 'section', text: 'by section' },
      { id: 'standing', text: 'by standing' },
      ...(here ? [{ id: here.id, text: `by ${here.title}` }] : []),
    ];
    return [
      ...ways.map((w) => ({ id: `by ${w.id}`, text: w.text, kind: 'choice' as const, on: by === w.id })),
      {
        id: 'turn',
        text: by === 'name' || by === 'section' ? 'from Z to A' : 'highest first',
        kind: 'check',
        on: down,
      },
    ];
  });

  readonly columnLines = computed((): MenuLine[] => {
    const look = this.look();
    const here = this.here();
    return [
      ...(here
        ? [
            { id: 'h1', text: here.title, kind: 'head' as const },
            { id: 'hide', text: 'hide this column', kind: 'act' as const },
            { id: 'left', text: 'one place to the left', kind: 'act' as const },
            { id: 'right', text: 'one place to the right', kind: 'act' as const },
            ...(here.rubric
              ? [
                  {
                    id: 'criteria',
                    text: 'with its criteria',
                    kind: 'check' as const,
                    on: look.criteria.includes(here.id),
                  },
                ]
              : []),
          ]
        : []),
      ...(look.hidden.length > 0
        ? [{ id: 'show', text: 'show all columns', kind: 'act' as const, more: `${look.hidden.length} hidden` }]
        : []),
      ...(look.criteria.length > 0 ? [{ id: 'no-criteria', text: 'without criteria', kind: 'act' as const }] : []),
      ...(look.order.length > 0 ? [{ id: 'book-order', text: 'in the order of the book', kind: 'act' as const }] : []),
      { id: 'h2', text: 'only the total of', kind: 'head' },
      ...this.view.store.categories().map((c) => ({
        id: `fold ${c.id}`,
        text: this.view.titleOf(c.id),
        kind: 'check' as const,
        on: look.folded.includes(c.id),
      })),
      { id: 'h3', text: 'rows', kind: 'head' },
      {
        id: 'roomy',
        text: 'roomy',
        kind: 'check',
        on: this.view.roomy(),
        disabled: this.view.roomy() && !look.roomy,
        more: this.view.roomy() && !look.roomy ? 'by your settings' : '',
      },
      { id: 'rank', text: 'with the rank', kind: 'check', on: look.rank },
    ];
  });

  readonly query = computed(() => toQuery(this.look()));
  /** The kept view that is the look now. */
  readonly known = computed(() => this.annotations.views().find((v) => v.query === this.query() && v.query !== ''));
  readonly viewWord = computed(() => this.known()?.title ?? 'views');
  readonly viewLines = computed((): MenuLine[] => [
    { id: '*', text: 'the whole book', kind: 'choice', on: this.query() === '' },
    ...this.annotations.views().map((v) => ({
      id: `view ${v.id}`,
      text: v.title,
      kind: 'choice' as const,
      on: v.id === this.known()?.id,
    })),
    ...(this.query() !== '' && !this.known() ? [{ id: 'keep', text: 'keep this view …', kind: 'act' as const }] : []),
    ...(this.known() ? [{ id: 'forget', text: 'take this view away', kind: 'act' as const }] : []),
  ]);
}
