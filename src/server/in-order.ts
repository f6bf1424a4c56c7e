/** Work whose results are taken in order, while what follows is under way. */

/**
 * Makes things in their order, a few at once ahead of whoever takes them.
 * @param make of the n-th; what it throws is thrown when its turn comes
 */
export async function* inOrder<T>(
  count: number,
  ahead: number,
  make: (n: number) => Promise<T>,
): AsyncGenerator<T> {
  const begun: Promise<T>[] = [];
  const begin = (n: number): void => {
    const made = make(n);
    // Heard when its turn comes, and not before.
    made.catch(() => undefined);
    begun.push(made);
  };
  for (let n = 0; n < Math.min(ahead, count); n++) begin(n);
  for (let n = 0; n < count; n++) {
    const next = await begun.shift()!;
    if (n + ahead < count) begin(n + ahead);
    yield next;
  }
}
