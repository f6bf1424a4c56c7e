/**
 * SMPTE time code (ST 12-1): hours, minutes, seconds and frames of a count. Drop-frame, for rates of
 * n x 30000/1001, leaves out the first numbers of each minute but every tenth, so that the clock keeps
 * up with real time: no frame is lost, only numbers.
 */
import type { Rate } from "./rate";

/** Whole frames that a second of the clock counts: 30 for 29.97. */
export const clockRate = (rate: Rate): number => Math.round(rate.numerator / rate.denominator);

/** True where drop-frame exists: 29.97, 59.94, 119.88. */
export const canDrop = (rate: Rate): boolean => rate.denominator === 1001 && clockRate(rate) % 30 === 0;

/** Two digits at least. */
const two = (n: number): string => String(n).padStart(2, "0");

/**
 * Time code of a frame count from 0. Drop-frame is written with a semicolon. Negative counts have a minus.
 */
export function timeCode(frame: number, rate: Rate, drop: boolean = canDrop(rate)): string {
  if (frame < 0) return `-${timeCode(-frame, rate, drop)}`;
  const perSecond = clockRate(rate);
  let n = frame;
  if (drop && canDrop(rate)) {
    const dropped = perSecond / 15;
    const perMinute = perSecond * 60 - dropped;
    const perTen = perMinute * 10 + dropped;
    const tens = Math.floor(frame / perTen);
    const rest = frame % perTen;
    n +=
      dropped * 9 * tens +
      (rest >= perSecond * 60 ? dropped * (1 + Math.floor((rest - perSecond * 60) / perMinute)) : 0);
  }
  const seconds = Math.floor(n / perSecond);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${drop && canDrop(rate) ? ";" : ":"}${two(n % perSecond)}`;
}

/**
 * Frame count of a time code, or null where it is none at this rate (a frame too high, a number that
 * drop-frame leaves out). A semicolon means drop-frame.
 */
export function readTimeCode(text: string, rate: Rate): number | null {
  const match = /^(\d{1,2}):(\d{2}):(\d{2})([:;])(\d{2,3})$/.exec(text.trim());
  if (match === null) return null;
  const [hours, minutes, seconds, frames] = [match[1], match[2], match[3], match[5]].map(Number) as [
    number,
    number,
    number,
    number,
  ];
  const perSecond = clockRate(rate);
  if (minutes > 59 || seconds > 59 || frames >= perSecond) return null;
  const count = ((hours * 60 + minutes) * 60 + seconds) * perSecond + frames;
  if (match[4] === ":") return count;
  if (!canDrop(rate)) return null;
  const dropped = perSecond / 15;
  if (seconds === 0 && frames < dropped && minutes % 10 !== 0) return null;
  const allMinutes = hours * 60 + minutes;
  return count - dropped * (allMinutes - Math.floor(allMinutes / 10));
}
