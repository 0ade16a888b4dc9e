// Words to the person at the terminal. A Stop ends the program with one plain sentence and exit code 1.
export class Stop extends Error {}

export const say = (text) => process.stdout.write(`${text}\n`);

export function sentenceFor(error) {
  if (error instanceof Stop) return error.message;
  if (error?.code === 'ENOSPC' || /No space left on device/.test(String(error?.message)))
    return 'The disk is full. Make room and start again; nothing that was kept is lost.';
  if (error?.code === 'EACCES' || error?.code === 'EPERM')
    return `This account may not write to ${error.path ?? 'a folder that is needed'}. Give it the right, or start from another folder.`;
  return error?.message ?? String(error);
}
