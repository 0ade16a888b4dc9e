import type { ChildProcess } from 'node:child_process';
export function startMailStandIn(page?: number): Promise<{ child: ChildProcess; smtp: number; page: number }>;
