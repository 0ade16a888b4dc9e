export function withServer(databaseUrl: string, doing: (address: string) => Promise<void>): Promise<void>;
/** Gives the file with the demo school. */
export function ensureDemoDump(): Promise<string>;
