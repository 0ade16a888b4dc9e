export function dropDatabase(name: string): string;
export function databaseNamed(name: string): string;
export function createDatabase(name: string, template?: string): string;
