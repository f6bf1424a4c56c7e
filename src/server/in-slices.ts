/** Long work on the thread that also answers others: in slices of a few milliseconds. */

/** Then others have their turn. */
const SLICE_MS = 12;

const turnOfOthers = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/** @param slices yields as often as it may be interrupted */
export async function inSlices<T>(slices: Generator<undefined, T>): Promise<T> {
  for (let since = performance.now(); ;) {
    const slice = slices.next();
    if (slice.done === true) return slice.value;
    if (performance.now() - since < SLICE_MS) continue;
    await turnOfOthers();
    since = performance.now();
  }
}
