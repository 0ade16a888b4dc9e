/** Runs a task every so many milliseconds until the function that it gives is called. It keeps no process alive. */
export function every(milliseconds: number, task: () => void): () => void {
  const timer = setInterval(task, milliseconds);
  timer.unref();
  return () => clearInterval(timer);
}
