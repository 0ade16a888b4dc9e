/** Milliseconds after which a disk that says nothing is taken for one that keeps nothing. */
const PATIENCE = 5_000;

/** What this machine's disk answers; an error where it says nothing for too long. */
export async function withDiskPatience<T>(answer: Promise<T>): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, failed) => {
    const tooLate = (): void => failed(new Error('the disk does not answer'));
    // Where it was the page that was busy, the answer lies there already: it comes before this.
    timer = setTimeout(() => (timer = setTimeout(tooLate)), PATIENCE);
  });
  try {
    return await Promise.race([answer, late]);
  } finally {
    clearTimeout(timer);
  }
}
