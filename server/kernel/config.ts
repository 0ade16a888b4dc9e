/** What the environment says. Nothing secret has a default. */
export interface Config {
  databaseUrl: string;
  port: number;
  host: string;
  sessionSecret: string;
  /** With it the first school is made; empty: this server offers no code of its own. */
  setupCode: string;
  /** The moment at which the clock of a school that is made here stands still, as a demo's does; null: the real one. */
  demoClock: string | null;
  /** Where the built web application lies; empty: the API alone. */
  webFolder: string;
  /** Cookies over TLS only, behind a proxy that ends it. */
  secureCookies: boolean;
  /** Every answer is checked against its schema too. */
  checkAnswers: boolean;
  poolSize: number;
}

export function readConfig(env: NodeJS.ProcessEnv): Config {
  const need = (name: string): string => {
    const value = env[name];
    if (!value) throw new Error(`The setting ${name} is missing.`);
    return value;
  };
  const port = Number(env['PORT'] ?? 4300);
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new Error(`PORT is "${env['PORT']}", which is no port number.`);
  return {
    databaseUrl: need('DATABASE_URL'),
    port,
    host: env['HOST'] ?? '127.0.0.1',
    sessionSecret: need('SESSION_SECRET'),
    setupCode: env['SETUP_CODE'] ?? '',
    demoClock: env['DEMO_CLOCK'] || null,
    webFolder: env['WEB_FOLDER'] ?? '',
    secureCookies: env['SECURE_COOKIES'] === 'true',
    checkAnswers: env['CHECK_ANSWERS'] === 'true',
    poolSize: Number(env['POOL_SIZE'] ?? 10),
  };
}
