import { counted } from '@core/words/count';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import { Counted, Form } from '../../ui/text/counted';
import { MANY_ROWS, ROW_HEIGHT, ROWS } from '../../ui/layout/rows';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Choice } from '../../ui/form/choice';
import { InputText } from 'primeng/inputtext';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import type { PeoplePage as People } from '@contract/people';
import { Api, newOperation, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { KeptDrafts } from '../../data/kept-drafts';
import { StatusBar } from '../../ui/layout/status-bar';
import { fits } from '../../ui/text/find-words';
import { InviteLinks } from '../../ui/form/invite-links';
import { BookSettingsPart } from './book-settings';
import { PeopleList, peoplePlace } from './people-list';
import { ROLES, sectionMovesOf, sectionVariantsOf, variantMovesOf } from './people-choices';
import { ACCOUNT_WORDS, stayWords } from './people-words';
import type { Invitations } from '@contract/accounts';

type Student = People['students'][number];

const NO_LINKS: Invitations['invitations'] = [];
const newSectionId = (): string => `sec-${newOperation().slice(-8)}`;

/** Everybody of a book: students with where they were from when to when, staff, sections; and the book itself. */
@Component({
  selector: 'lt-people',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Counted,
    Form,
    ROWS,
    FormsModule,
    Checkbox,
    Choice,
    InputText,
    RouterLink,
    Button,
    PeopleList,
    BookSettingsPart,
    InviteLinks,
  ],
  templateUrl: './people.html',
  styleUrl: './people.css',
  host: { role: 'main' },
})
export class PeoplePage {
  protected readonly MANY = MANY_ROWS;
  protected readonly ROW = ROW_HEIGHT;
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);

  protected readonly people = signal<People | null>(null);
  protected readonly problem = signal('');
  protected readonly failure = signal('');
  protected readonly busy = signal(false);
  protected readonly words = signal('');
  protected readonly gone = signal(false);
  protected readonly picked = signal<ReadonlySet<string>>(new Set());
  protected readonly reason = signal('');
  private readonly drafts = inject(KeptDrafts);
  /** A list that was begun is open again. */
  protected readonly adding = linkedSignal(
    () => this.store.id() !== '' && this.drafts.read(peoplePlace(this.store.id())) !== null,
  );
  protected readonly login = signal('');
  protected readonly section = signal('');
  protected readonly links = this.drafts.held<Invitations['invitations']>(
    () => (this.store.id() ? `invitations ${this.store.id()}` : ''),
    NO_LINKS,
  );

  protected readonly office = computed(() => this.store.page()?.role === 'administrator');
  protected readonly may = computed(() => (this.store.mayManage() || this.office()) && !this.store.page()?.archived);
  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  protected readonly sections = computed(() => this.store.page()?.sections ?? []);
  protected readonly ROLES = ROLES;
  protected readonly ACCOUNT_WORDS = ACCOUNT_WORDS;
  /** Variants of the rules, for the students that are picked, and for a section. */
  protected readonly variants = computed(() => this.store.page()?.variants ?? []);
  protected readonly variantMoves = computed(() => variantMovesOf(this.variants()));
  protected readonly sectionVariants = computed(() => sectionVariantsOf(this.variants()));
  protected readonly moves = computed(() => sectionMovesOf(this.sections()));
  private readonly all = computed(() => this.people()?.students ?? []);
  protected readonly shown = computed(() =>
    this.all().filter(
      (s) =>
        s.left === this.gone() &&
        fits(`${s.family} ${s.given} ${s.number} ${s.mail} ${this.titleOf(s.section)}`, this.words()) > 0,
    ),
  );
  protected readonly left = computed(() => this.all().filter((s) => s.left).length);
  protected readonly here = computed(() => this.all().filter((s) => !s.left).length);
  protected readonly chosen = computed(() => this.all().filter((s) => this.picked().has(s.id)));
  protected readonly uninvited = computed(() => this.chosen().filter((s) => s.account !== 'ready'));
  protected readonly allPicked = computed(
    () => this.shown().length > 0 && this.shown().every((s) => this.picked().has(s.id)),
  );

  constructor() {
    this.statusBar.keys.set([{ key: '?', label: 'all keys' }]);
    effect(() => {
      this.store.loaded();
      if (this.store.page()) untracked(() => void this.load());
    });
  }

  protected async load(): Promise<void> {
    const id = this.store.id();
    try {
      const people = await this.api.get<People>(`/books/${id}/people`);
      if (id !== this.store.id()) return;
      this.people.set(people);
      this.problem.set('');
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  protected titleOf(section: string | null): string {
    return this.store.sections().get(section ?? '') ?? '';
  }

  protected staysOf(s: Student): string {
    return stayWords(s, (section) => this.titleOf(section), this.zone());
  }

  protected pick(id: string, on: boolean): void {
    this.picked.update((was) => {
      const is = new Set(was);
      if (on) is.add(id);
      else is.delete(id);
      return is;
    });
  }

  protected pickAll(on: boolean): void {
    this.picked.set(new Set(on ? this.shown().map((s) => s.id) : []));
  }

  protected showGone(gone: boolean): void {
    this.gone.set(gone);
    this.picked.set(new Set());
  }

  /** Does something to the book and loads it anew; what was said stays where it fails. */
  protected async act(message: string, send: () => Promise<unknown>): Promise<boolean> {
    if (this.busy()) return false;
    if (this.office() && this.reason().trim() === '') {
      this.failure.set('The office changes a book only with a reason: say it above.');
      return false;
    }
    this.busy.set(true);
    this.failure.set('');
    try {
      await send();
      await this.store.reload();
      await this.load();
      this.statusBar.announce(message);
      return true;
    } catch (error) {
      this.failure.set(messageOf(error));
      return false;
    } finally {
      this.busy.set(false);
    }
  }

  /** The id of the section that is made next: the same for a second click. */
  private newSection = newSectionId();

  private get base(): string {
    return `/books/${this.store.id()}`;
  }

  protected async change(
    part: { section?: string | null; left?: boolean; variant?: string | null },
    message: string,
  ): Promise<void> {
    const enrolments = this.chosen().map((s) => s.id);
    const done = await this.act(message, () =>
      this.operations.submit('PATCH', `${this.base}/enrolments`, {
        enrolments,
        ...part,
        reason: this.reason().trim(),
      }),
    );
    if (done) this.picked.set(new Set());
  }

  protected count(): string {
    const n = this.chosen().length;
    return n === 1 ? `${this.chosen()[0]!.given} ${this.chosen()[0]!.family}`.trim() : `${n} students`;
  }

  protected move(section: string): Promise<void> {
    const to = section === '*' ? null : section;
    return this.change(
      { section: to },
      `${this.count()}: now in ${this.titleOf(to) || 'no section'}. Their scores went along.`,
    );
  }

  protected vary(to: string): Promise<void> {
    const variant = to === '*' ? null : to.slice(1);
    return this.change(
      { variant },
      variant === null ? `${this.count()}: as their section.` : `${this.count()}: by the variant “${variant}”.`,
    );
  }

  protected readonly inviteWords = computed(() => {
    const all = this.uninvited();
    // Another link; the one before stays good until its day.
    return all.every((s) => s.account === 'invited') ? `invite ${all.length} again` : `invite ${all.length} to sign in`;
  });

  protected doneWithLinks(): void {
    this.links.set(NO_LINKS);
  }

  protected invite(): Promise<void> {
    const logins = this.uninvited().map((s) => s.login);
    return this.makeLinks({ logins }, 'Invited: each link works once, for fourteen days.');
  }

  /** Of the links on the page, those of whom nobody has chosen a password since, by mail as well. */
  protected mailLinks(): Promise<void> {
    const ready = new Set(this.all().flatMap((s) => (s.account === 'ready' ? [s.login] : [])));
    const logins = this.links().flatMap((l) => (ready.has(l.login) ? [] : [l.login]));
    return this.makeLinks({ logins, mail: true }, 'New links go by mail; the earlier ones work no more.');
  }

  private async makeLinks(body: { logins: string[]; mail?: boolean }, done: string): Promise<void> {
    await this.act(done, async () => {
      const { invitations } = await this.api.send<Invitations>('POST', `${this.base}/invitations`, body);
      this.links.set(invitations);
    });
  }

  protected async staff(login: string, role: string | null): Promise<void> {
    const done = await this.act(
      role === null ? `${login} is off this book.` : `${login} is ${role} of this book.`,
      () =>
        this.operations.submit('PUT', `${this.base}/staff/${encodeURIComponent(login)}`, {
          role,
          reason: this.reason().trim(),
        }),
    );
    if (done) this.login.set('');
    else await this.load();
  }

  protected async putSection(id: string, title: string, variant?: string | null): Promise<void> {
    if (title.trim() === '' || (title.trim() === this.titleOf(id) && variant === undefined)) return;
    const done = await this.act(`${title.trim()}: kept.`, () =>
      this.operations.submit('PUT', `${this.base}/sections/${id || this.newSection}`, {
        title: title.trim(),
        ...(variant === undefined ? {} : { variant }),
        reason: this.reason().trim(),
      }),
    );
    if (done && id === '') {
      this.section.set('');
      this.newSection = newSectionId();
    }
  }

  protected async added(n: number): Promise<void> {
    this.adding.set(false);
    await this.store.reload();
    await this.load();
    this.statusBar.announce(counted(n, 'student is put in or moved.', 'students are put in or moved.'));
  }
}
