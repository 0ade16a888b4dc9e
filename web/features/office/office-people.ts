import { counted } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, inject, resource, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Textarea } from 'primeng/textarea';
import { InputText } from 'primeng/inputtext';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import { readPeople } from '@core/import/people-list';
import { DayBox } from '../../ui/form/day-box';
import { Api, messageOf } from '../../data/api';
import { schoolNow } from '../../ui/text/dates';
import { KeptDrafts } from '../../data/kept-drafts';
import { StatusBar } from '../../ui/layout/status-bar';
import { InviteLinks } from '../../ui/form/invite-links';
import { SchoolStatement } from './school-statement';
import type { Invitations } from '@contract/accounts';
import type { BookList } from '@contract/books';

const plainLogin = (text: string): string =>
  text
    .normalize('NFD')
    .toLowerCase()
    .replace(/[^a-z0-9._-]+/g, '')
    .replace(/^[._-]+/, '')
    .slice(0, 100);

/** What is open for making or changing. */
type Part = 'term' | 'staff' | 'invite' | 'statement';

/** What the office makes by hand: terms, staff with their invitations, and whether exceptions need a reason. */
@Component({
  selector: 'lt-office-people',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayBox, FormsModule, Checkbox, Textarea, InputText, Button, InviteLinks, RouterLink, SchoolStatement],
  templateUrl: './office-people.html',
  styles: `
    section {
      display: grid;
      gap: 10px;
      margin-top: 12px;
    }
    .acts,
    form {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 18px;
      align-items: center;
    }
    form {
      padding: 12px 14px;
      background: var(--side);
      border: 1px solid var(--rule);
      gap: 8px 10px;
    }
    .wide {
      flex: 1 1 100%;
    }
  `,
})
export class OfficePeople {
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly books = resource({ loader: () => this.api.get<BookList>('/books') });
  protected readonly list = computed(() => (this.books.hasValue() ? this.books.value() : null));
  protected readonly open = signal<'' | Part>('');
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly title = signal('');
  protected readonly starts = signal('');
  protected readonly ends = signal('');
  protected readonly text = inject(KeptDrafts).text(() => 'staff');
  protected readonly login = signal('');
  /** Terms lie near the day on which they are made. */
  protected readonly now = schoolNow();
  protected readonly NO_LINKS: Invitations['invitations'] = [];
  protected readonly links = inject(KeptDrafts).held(() => 'invitations', this.NO_LINKS);

  protected readonly staff = computed(() => {
    const taken = new Set<string>();
    return readPeople(this.text()).people.map((p) => {
      const base = plainLogin(p.mail.split('@')[0] || p.family) || 'staff';
      let login = base.length < 2 ? `${base}1` : base;
      for (let n = 2; taken.has(login); n++) login = `${base}${n}`;
      taken.add(login);
      return {
        login,
        family: p.family || login,
        given: p.given,
        number: '',
        mail: p.mail,
        role: 'staff' as const,
        password: null,
      };
    });
  });
  protected readonly staffSays = computed(() =>
    this.staff()
      .slice(0, 6)
      .map((s) => `${s.given} ${s.family} signs in as ${s.login}`.trim())
      .join('; '),
  );

  protected toggle(what: Part): void {
    this.open.set(this.open() === what ? '' : what);
    this.problem.set('');
  }

  private async act(work: () => Promise<string>): Promise<void> {
    this.busy.set(true);
    this.problem.set('');
    try {
      this.statusBar.announce(await work());
      this.open.set('');
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  protected makeTerm(): Promise<void> {
    return this.act(async () => {
      const id = `${this.starts()}-${crypto.randomUUID().slice(0, 6)}`;
      await this.api.send('POST', '/terms', {
        id,
        title: this.title().trim(),
        starts: this.starts(),
        ends: this.ends(),
      });
      const said = `${this.title().trim()} is made.`;
      this.title.set('');
      this.books.reload();
      return said;
    });
  }

  protected addStaff(): Promise<void> {
    return this.act(async () => {
      const people = this.staff();
      await this.api.send('POST', '/people', { people });
      const logins = people.map((p) => p.login);
      this.text.set('');
      const { invitations } = await this.api.send<Invitations>('POST', '/invitations', { logins });
      this.links.set(invitations);
      return counted(people.length, 'person is added and invited.', 'people are added and invited.');
    });
  }

  protected invite(): Promise<void> {
    return this.act(async () => {
      const { invitations } = await this.api.send<Invitations>('POST', '/invitations', {
        logins: [this.login().trim()],
      });
      this.links.set(invitations);
      this.login.set('');
      return 'The link is made.';
    });
  }

  protected mailLinks(): Promise<void> {
    return this.act(async () => {
      const logins = this.links().map((l) => l.login);
      const { invitations } = await this.api.send<Invitations>('POST', '/invitations', { logins, mail: true });
      this.links.set(invitations);
      return 'New links go by mail; the earlier ones work no more.';
    });
  }

  protected setStatement(statement: string): Promise<void> {
    return this.act(async () => {
      await this.api.send('PATCH', '/school', { statement });
      this.books.reload();
      return statement.trim() === ''
        ? 'Nothing is ticked, where a book says nothing.'
        : 'Students tick this from now on.';
    });
  }

  protected hideNames(hidesNames: boolean): Promise<void> {
    return this.act(async () => {
      await this.api.send('PATCH', '/school', { hidesNames });
      this.books.reload();
      return hidesNames
        ? 'Assessments that are made from now on are marked without names, where their book says nothing else.'
        : 'Assessments that are made from now on are marked by name, where their book says nothing else.';
    });
  }

  protected wantReasons(wants: boolean): Promise<void> {
    return this.act(async () => {
      await this.api.send('PATCH', '/school', { wantsReasons: wants });
      this.books.reload();
      return wants ? 'Every exception needs a reason from now on.' : 'A reason is offered, and not required.';
    });
  }
}
