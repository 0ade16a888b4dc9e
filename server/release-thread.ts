import { openPool } from './kernel/database';
import { answerTasks } from './kernel/task-thread';
import { threadData } from './kernel/threads';
import { releaseHere, type ReleaseTask } from './modules/statements';

const { databaseUrl } = threadData<{ databaseUrl: string }>();
const pool = openPool(databaseUrl, 2);
answerTasks((task: ReleaseTask) => releaseHere(pool, task));
