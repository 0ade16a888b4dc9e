import type { ChildProcess } from 'node:child_process';
export interface ServerOptions {
  databaseUrl: string;
  port: number;
  sessionSecret: string;
  setupCode: string;
  checkAnswers?: boolean;
  /** Where the clock of a school that is made there stands still; '' or left out: it runs. */
  demoClock?: string;
  log?: (text: string) => void;
  extra?: Record<string, string>;
}
export function serverEnvironment(options: Omit<ServerOptions, 'log'>): NodeJS.ProcessEnv;
export function startServer(options: ServerOptions): Promise<{ child: ChildProcess; port: number }>;
export function endServer(child: ChildProcess): Promise<void>;
