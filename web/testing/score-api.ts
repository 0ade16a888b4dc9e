import { signal } from '@angular/core';
import { cellKey } from '@contract/wire/cell-key';
import type { EntryState } from '@contract/scores';
import { ApiProblem } from '../data/api';

interface Cell {
  assessment: string;
  enrolment: string;
  version: number;
  change: unknown;
}
interface Body extends Partial<Cell> {
  operation: string;
  cells?: Cell[];
}

/** A server that keeps versions, and can be cut off. */
export class ScoreApi {
  down = false;
  readonly person = signal('');
  readonly token = Object.assign(() => '', { set: (t: string) => void this.tokens.push(t) });
  readonly tokens: string[] = [];
  signedIn = true;
  me = '';
  /** Cells that cannot be. */
  readonly impossible = new Set<string>();

  async get() {
    return { me: this.signedIn ? { id: this.me, token: 'fresh' } : null };
  }
  /** By "student item". */
  readonly versions = new Map<string, number>();
  readonly got: { path: string; body: Body }[] = [];

  async send(_method: string, path: string, body: Body): Promise<unknown> {
    if (this.down) throw new ApiProblem('offline', 'no line');
    if (!this.signedIn) throw new ApiProblem('not-signed-in', 'sign in again');
    const [assessment, enrolment] = path.split('/').slice(-2) as [string, string];
    const cells = body.cells ?? [{ assessment, enrolment, version: body.version!, change: body.change }];
    const state = (c: Cell): EntryState => ({
      assessment: c.assessment,
      enrolment: c.enrolment,
      version: this.versions.get(cellKey(c.enrolment, c.assessment)) ?? 0,
      entry: {},
      releaseState: 0,
      seq: 1,
    });
    const errors = cells.flatMap((c, i) =>
      this.impossible.has(cellKey(c.enrolment, c.assessment))
        ? [{ pointer: `/cells/${i}/change`, detail: 'cannot be' }]
        : [],
    );
    if (errors.length > 0) throw new ApiProblem('bad-request', 'cannot be', undefined, errors);
    const stale = cells.filter((c) => c.version !== state(c).version).map(state);
    if (stale.length > 0) throw new ApiProblem('stale', 'changed', body.cells ? stale : stale[0]);
    this.got.push({ path, body });
    for (const c of cells) this.versions.set(cellKey(c.enrolment, c.assessment), c.version + 1);
    return body.cells ? { batch: 'b', seq: 1, cells: cells.map(state) } : state(cells[0]!);
  }
}
