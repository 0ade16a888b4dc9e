import type { ChildProcess } from 'node:child_process';
import type { Cluster } from './cluster.mjs';
export function withServer(
  databaseUrl: string,
  doing: (address: string) => Promise<unknown>,
  extra?: Record<string, string>,
): Promise<void>;
/** Gives the file with the demo school. */
export function ensureDemoDump(told?: {
  cluster?: Cluster;
  begins?: () => void;
  started?: (child: ChildProcess) => void;
}): Promise<string>;
