// Waiting for what a page tells by an event, with an end: a promise of a page that is never kept would hold a test for ever.

/**
 * Does something, and waits for the event that follows it and for what is under way to settle.
 * @param {string} name the event, listened for before the action begins
 * @param {() => Promise<unknown>} action
 * @param {string} selector the element that hears it
 */
export async function follows(page, name, action, selector = 'body') {
  const heard = page.evaluate(
    ([wanted, at]) =>
      new Promise((resolve, reject) => {
        document.querySelector(at).addEventListener(wanted, () => requestAnimationFrame(() => resolve()), { once: true });
        setTimeout(() => reject(new Error(`${wanted} did not come within a minute`)), 60_000);
      }),
    [name, selector],
  );
  // What the action throws is told first.
  heard.catch(() => {});
  await action();
  await heard;
  await quiet(page);
}

/** Waits until no request of the page is under way and none is being drawn. */
export const quiet = page => page.waitForFunction(() => !document.querySelector('.htmx-request, .htmx-swapping, .htmx-settling'));

/** Asks again until the answer will do, for a minute. */
export async function until(ask, willDo) {
  for (const end = Date.now() + 60_000; Date.now() < end;) {
    const answer = await ask();
    if (willDo(answer)) return answer;
  }
  throw new Error('What was waited for did not come within a minute');
}
