import type { ChildProcess } from 'node:child_process';
export function startServer(options: {
  databaseUrl: string;
  port: number;
  sessionSecret: string;
  setupToken: string;
  checkAnswers?: boolean;
  log?: (text: string) => void;
  extra?: Record<string, string>;
}): Promise<{ child: ChildProcess; port: number }>;
export function endServer(child: ChildProcess): Promise<void>;
