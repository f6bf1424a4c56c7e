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

/** Values by what each belongs to, both in the order in which they came. */
export function groupBy<K, T>(values: Iterable<T>, keyOf: (value: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const value of values) {
    const key = keyOf(value);
    const group = groups.get(key);
    if (group === undefined) groups.set(key, [value]);
    else group.push(value);
  }
  return groups;
}

/**
 * The middle value, the mean of the two middle ones of an even number, 0 of none. Times have long tails: one
 * hung frame must not move an estimate.
 */
export function median(values: readonly number[]): number {
  if (values.length === 0) return 0;
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
