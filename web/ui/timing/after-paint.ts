/** Milliseconds until what waits for the page to paint is done though it does not: a page that is not seen paints nothing. */
const AT_MOST = 100;

/** Ends once what was just typed is on the screen: what can wait a frame does not hold up the next key. */
export function afterPaint(): Promise<void> {
  if (typeof requestAnimationFrame === 'undefined' || globalThis.document?.visibilityState !== 'visible')
    return Promise.resolve();
  return new Promise((done) => {
    const late = setTimeout(done, AT_MOST);
    requestAnimationFrame(() =>
      setTimeout(() => {
        clearTimeout(late);
        done();
      }),
    );
  });
}
