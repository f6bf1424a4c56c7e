/** Clock times as people write them: 24 hours, whatever a browser's language makes of them. */

export interface ClockTime {
  /** 0 to 23. */
  readonly hours: number;
  readonly minutes: number;
}

/** Reads 8:05 or 08:05; null for anything else. */
export function readClock(text: string): ClockTime | null {
  const match = /^\s*(\d{1,2}):(\d{2})\s*$/.exec(text);
  if (match === null) return null;
  const [hours, minutes] = [Number(match[1]), Number(match[2])];
  return hours < 24 && minutes < 60 ? { hours, minutes } : null;
}

/** As it is written everywhere: 08:05. */
export const clockText = ({ hours, minutes }: ClockTime): string =>
  `${String(hours).padStart(2, "0")}:${String(minutes).padStart(2, "0")}`;
