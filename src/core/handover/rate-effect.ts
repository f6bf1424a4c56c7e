/** What comes of frames that are played at another rate than they were made for, in words. */
import { durationSeconds, isSameRate, type Rate, rateText } from "../timing/rate";

/** Seconds as people say them: two digits behind the point below ten. */
const secondsText = (seconds: number): string =>
  `${seconds < 10 ? Number(seconds.toFixed(2)) : Number(seconds.toFixed(1))} s`;

/** Null where the rates are the same. @param frames that are shown */
export function rateEffect(frames: number, made: Rate, played: Rate): string | null {
  if (isSameRate(made, played)) return null;
  const speed = (played.numerator * made.denominator) / (played.denominator * made.numerator);
  const [was, is] = [durationSeconds(frames, made), durationSeconds(frames, played)];
  const word =
    speed === 2
      ? "double speed"
      : speed === 0.5
        ? "half speed"
        : `${Number((speed * 100).toFixed(Math.abs(speed - 1) < 0.01 ? 2 : 1))} % of its speed`;
  return `Made for ${rateText(made)} frames a second and played at ${rateText(played)}: ${word}, ${secondsText(was)} become ${secondsText(is)}.`;
}
