/**
 * Lists of any length. (`Math.min(...values)` and `push(...values)` pass each value as an argument of its own:
 * at some 120,000 of them the stack is full. Lint refuses both.)
 */

/** Infinity of none. */
export function least(values: Iterable<number>): number {
  let found = Infinity;
  for (const value of values) if (value < found) found = value;
  return found;
}

/** -Infinity of none. */
export function largest(values: Iterable<number>): number {
  let found = -Infinity;
  for (const value of values) if (value > found) found = value;
  return found;
}

/** Adds values at the end of a list. */
export function addAll<T>(list: T[], more: Iterable<T>): void {
  for (const value of more) list.push(value);
}
