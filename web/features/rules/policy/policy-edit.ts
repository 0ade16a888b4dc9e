import { computed, effect, inject, Injectable, signal } from '@angular/core';
import { checkSchoolRules } from '@core/policy/check';
import type {
  SchoolDeviations,
  SchoolRulesMade,
  SchoolRulesState,
  SchoolRulesVersions,
  PolicyRollout,
} from '@contract/policy';
import { Api, ApiProblem, newOperation, messageOf } from '../../../data/api';
import { KeptDrafts } from '../../../data/kept-drafts';
import { Operations } from '../../../data/operations';
import type { Draft } from '../draft';
import { asSchool, sameSchool, schoolDraftOf, schoolRulesOf, type SchoolDraft } from './policy-draft';

/** Milliseconds after the last word that a trial over all books begins. */
const BEGINS_AFTER = 500;
/** Milliseconds between two looks at how far it is. */
const LOOKS_EVERY = 300;
/** Where a trial that is left is kept. */
const PLACE = 'school-rules';

export interface Said {
  at: string;
  says: string;
}

/** The school's rules that are being read and tried, and their way through the books. Each page has its own. */
@Injectable()
export class PolicyEdit {
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly drafts = inject(KeptDrafts);
  private readonly state = signal<SchoolRulesState | null>(null);
  readonly versions = signal<SchoolRulesVersions>([]);
  readonly departures = signal<SchoolDeviations>([]);
  private readonly tried = signal<SchoolDraft | null>(null);
  /** A trial, or what was made, on its way through the books. */
  readonly rollout = signal<PolicyRollout | null>(null);
  /** The trial was ended before it was through. */
  readonly stopped = signal(false);
  readonly busy = signal(false);
  readonly failure = signal('');
  readonly theirs = signal(false);
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** The version that was seen when the trial began. */
  private base: number | null = null;
  private tookUp = false;
  /** What is looked at now; another takes its place. */
  private looking = '';

  readonly now = computed((): SchoolDraft | null => {
    const state = this.state();
    return state ? schoolDraftOf(state.rules) : null;
  });
  readonly draft = computed(() => this.tried() ?? this.now());
  readonly trying = computed(() => this.tried() !== null);
  readonly made = computed(() => this.state()?.made ?? null);
  readonly problems = computed((): Said[] => {
    const tried = this.tried();
    if (!tried) return [];
    const checked = checkSchoolRules(schoolRulesOf(tried));
    return checked.ok ? [] : checked.problems;
  });
  /** Books of the rollout that are through. */
  readonly done = computed(() => this.rollout()?.books.filter((b) => b.state !== 'waits').length ?? 0);
  readonly through = computed(() => this.rollout() !== null && this.done() === this.rollout()!.books.length);

  constructor() {
    effect(() => {
      const tried = this.tried();
      if (this.tookUp) this.drafts.keep(PLACE, tried && { tried, version: this.base });
    });
  }

  /** Takes up a trial that was left, on the version that it was tried on. */
  private takeUp(): void {
    if (this.tookUp) return;
    this.tookUp = true;
    const left = this.drafts.read<{ tried: SchoolDraft; version: number }>(PLACE);
    if (!left) return;
    this.base = left.version;
    this.try(left.tried);
  }

  async load(): Promise<void> {
    try {
      const [state, versions, departures] = await Promise.all([
        this.api.get<SchoolRulesState>('/school-rules'),
        this.api.get<SchoolRulesVersions>('/school-rules/versions'),
        this.api.get<SchoolDeviations>('/school-rules/deviations'),
      ]);
      this.state.set(state);
      this.versions.set(versions);
      this.departures.set(departures);
      this.takeUp();
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  /** Puts a change on trial; over all books a moment after the last word of it. */
  try(next: Draft): void {
    const now = this.now();
    if (!now || this.busy()) return;
    this.failure.set('');
    const same = sameSchool(now, asSchool(next));
    this.base = same ? null : (this.base ?? this.state()!.version);
    this.tried.set(same ? null : asSchool(next));
    this.leaveRollout();
    if (!same && this.problems().length === 0) this.timer = setTimeout(() => void this.begin(), BEGINS_AFTER);
  }

  /** Works the trial out over all books from the beginning. */
  async begin(): Promise<void> {
    const tried = this.tried();
    if (!tried) return;
    this.leaveRollout();
    const id = newOperation();
    this.looking = id;
    try {
      await this.api.send('POST', '/school-rules/rollouts', {
        id,
        version: this.state()!.version,
        rules: schoolRulesOf(tried),
      });
      await this.follow(id);
    } catch (error) {
      this.rollout.set(null);
      this.stopped.set(true);
      this.fail(error);
    }
  }

  private async follow(id: string): Promise<void> {
    while (this.looking === id) {
      const rollout = await this.api.get<PolicyRollout>(`/school-rules/rollouts/${id}`);
      if (this.looking !== id) return;
      this.rollout.set(rollout);
      if (this.through()) return;
      await new Promise((done) => setTimeout(done, LOOKS_EVERY));
    }
  }

  private fail(error: unknown): void {
    this.failure.set(messageOf(error));
    this.theirs.set(error instanceof ApiProblem && error.code === 'stale');
  }

  /** Looks at no rollout any more; a trial is ended on the server, with what it had found. */
  private leaveRollout(): void {
    clearTimeout(this.timer);
    const ends = this.rollout()?.kind === 'make' ? '' : this.looking;
    this.looking = '';
    this.rollout.set(null);
    this.stopped.set(false);
    if (ends) this.api.send('DELETE', `/school-rules/rollouts/${ends}`).catch((error: unknown) => this.fail(error));
  }

  stop(): void {
    this.leaveRollout();
    this.stopped.set(true);
  }

  drop(): void {
    this.leaveRollout();
    this.base = null;
    this.tried.set(null);
    this.failure.set('');
    this.theirs.set(false);
  }

  /** Makes what is tried the school's rules; true once it is through the books. */
  async make(reason: string): Promise<boolean> {
    const tried = this.tried();
    if (!tried || this.busy()) return false;
    this.busy.set(true);
    this.failure.set('');
    try {
      const write = { version: this.base ?? this.state()!.version, reason, rules: schoolRulesOf(tried) };
      const { rollout } = await this.operations.submit<SchoolRulesMade>('PUT', '/school-rules', write);
      clearTimeout(this.timer);
      // It is made from here on, whether its way through the books can be watched or not.
      this.rollout.set(null);
      this.looking = rollout;
      this.base = null;
      this.tried.set(null);
      await this.load();
      await this.follow(rollout);
      await this.load();
      return true;
    } catch (error) {
      this.fail(error);
      return false;
    } finally {
      this.busy.set(false);
    }
  }
}
