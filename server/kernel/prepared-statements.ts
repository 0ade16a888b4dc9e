import pg from 'pg';

/** So many different statements are prepared on a connection at most: those written in the code are some hundred. */
const MOST = 1_000;

/** Names of the texts of statements. A text that was used once may be one that is put together for its values. */
export class StatementNames {
  private readonly names = new Map<string, string>();
  private once = new Set<string>();

  constructor(private readonly most = MOST) {}

  /** The name under which the statement is prepared, from its second use on; undefined before, and where there are too many. */
  nameOf(text: string): string | undefined {
    const known = this.names.get(text);
    if (known !== undefined || this.names.size >= this.most) return known;
    if (!this.once.has(text)) {
      if (this.once.size >= this.most) this.once.clear();
      this.once.add(text);
      return undefined;
    }
    this.once.delete(text);
    const name = `s${this.names.size + 1}`;
    this.names.set(text, name);
    return name;
  }
}

/** Of all connections of the process: what one has found to be used again, the next prepares at once. */
const names = new StatementNames();

type Query = (...args: unknown[]) => unknown;

const preparing =
  (send: Query): Query =>
  (...args) => {
    const [text, values, done] = args;
    const name = typeof text === 'string' && Array.isArray(values) ? names.nameOf(text) : undefined;
    return name === undefined ? send(...args) : send({ name, text, values }, done);
  };

/**
 * A connection that has the database read and plan a statement once, not at each use: planning took four times as long as
 * doing what was planned. A statement is what has values; one that was given a name by who sends it keeps that.
 */
export class PreparingClient extends pg.Client {
  override query = preparing(super.query.bind(this) as Query) as pg.Client['query'];
}
