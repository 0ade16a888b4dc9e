import type { Cluster } from './cluster.mjs';
export function dumpDatabase(cluster: Cluster, name: string, file: string): Promise<void>;
export function restoreDatabase(cluster: Cluster, name: string, file: string): Promise<void>;
