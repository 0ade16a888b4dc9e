export function run(
  command: string,
  args: string[],
  options?: { quiet?: boolean; cwd?: string; env?: NodeJS.ProcessEnv },
): Promise<{ code: number; output: string }>;
