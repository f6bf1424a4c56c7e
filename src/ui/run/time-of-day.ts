/**
 * Clock times as people type them, and the moment they mean: the next time the clock shows that.
 * A time typed at 23:00 for 08:00 means tomorrow's: moments are kept, not clock times, so that a run starts
 * once and not each day. The clock is the browser's.
 */

import { clockText, readClock } from "@/core/timing/clock";

/** @param text HH:MM, or blank @param now milliseconds since 1970 */
export function nextTimeOf(text: string, now: number): number | null {
  const time = readClock(text);
  if (time === null) return null;
  const at = new Date(now);
  at.setHours(time.hours, time.minutes, 0, 0);
  if (at.getTime() <= now) at.setDate(at.getDate() + 1);
  return at.getTime();
}

/** HH:MM of a moment by this machine's clock; blank for none. */
export function timeOfDay(ms: number | null): string {
  if (ms === null) return "";
  const at = new Date(ms);
  return clockText({ hours: at.getHours(), minutes: at.getMinutes() });
}
