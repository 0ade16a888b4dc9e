export interface Cluster {
  bin: string;
  pid: number;
  port: number;
  env: NodeJS.ProcessEnv;
  diskWasFull(): boolean;
  url(database: string): string;
  stop(): Promise<void>;
}
export function openCluster(options: { folder: string; test?: boolean; keepAfterStop?: boolean }): Promise<Cluster>;
export function openThrowawayCluster(): Promise<Cluster>;
export function ensureDatabase(cluster: Cluster, name: string, fresh?: boolean): Promise<string>;
