import { hash } from '@node-rs/argon2';

// argon2id with 19 MiB, 2 passes, 1 lane: the least that current guidance names.
const ARGON = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string): Promise<string> => hash(password, ARGON);
