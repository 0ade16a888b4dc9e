/** Runs a task every so many milliseconds until the function that it gives is called. It keeps no process alive. */
export function every(milliseconds: number, task: () => void): () => void {
  const timer = setInterval(task, milliseconds);
  timer.unref();
  return () => clearInterval(timer);
}

/** Resolves after so many milliseconds. */
export const pause = (milliseconds: number): Promise<void> => new Promise((done) => setTimeout(done, milliseconds));

/** Runs a task once, after so many milliseconds. It keeps no process alive. */
export function after(milliseconds: number, task: () => void): void {
  setTimeout(task, milliseconds).unref();
}
