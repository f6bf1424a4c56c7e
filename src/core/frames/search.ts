/** Greatest index whose value is at most `wanted`, or -1; values ascend. */
export function lastAtOrBelow(length: number, valueAt: (index: number) => number, wanted: number): number {
  let low = 0;
  let high = length;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (valueAt(mid) <= wanted) low = mid + 1;
    else high = mid;
  }
  return low - 1;
}
