/**
 * Hours of a day in which a machine may work, as minutes since midnight by its own clock; over midnight where
 * they end before they begin.
 */

export interface Hours {
  /** HH:MM */
  readonly from: string;
  /** `HH:MM`, exclusive. */
  readonly to: string;
}

/** Since midnight. */
const minutesOf = (time: string): number => Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));

/** @param minute of the day, 0 to 1439. Equal ends mean the whole day. */
export function isWithinHours({ from, to }: Hours, minute: number): boolean {
  const [begin, end] = [minutesOf(from), minutesOf(to)];
  if (begin === end) return true;
  return begin < end ? minute >= begin && minute < end : minute >= begin || minute < end;
}
