/**
 * CMX 3600 edit decision lists: one event a line,
 *
 *     001  HL010    V     C        00:00:41:17 00:00:45:17 01:00:00:00 01:00:04:00
 *     num  reel   channel  kind    source in   source out  record in   record out
 *
 * with comments (`* FROM CLIP NAME: ...`), dissolves (`D 012`: two lines of one number) and speeds
 * (`M2 reel 048.0 ...`). Out points are exclusive. Channels with a V or a B show pictures, those with an A or a
 * B (A, A2, AA, B) are heard.
 */
import { least } from "../many";
import type { Rate } from "../timing/rate";
import { clockRate, readTimeCode } from "../timing/time-code";
import { canBeShown, type EditClip, type EditRead, type EditSound, refuseEdit } from "./edit-list";

/** Longer is no line of an edit list: the format knows 80 columns, names made some longer. */
export const LONGEST_LINE = 2_000;

/**
 * A line of an event; the number of a transition's frames may be missing. No two parts of it can match the
 * same text, so that the time is linear in the line's length.
 */
const EVENT = /^(\d{1,6})\s+(\S+)\s+(\S+)\s+([CDKW]\S*)\s+(?:(\d{1,4})\s+)?(\S+)\s+(\S+)\s+(\S+)\s+(\S+)\s*$/;
/** TO is the clip that a dissolve leads to. */
const CLIP_NAME = /^\*\s*(FROM|TO) CLIP NAME:(.+)$/i;
/** A motion effect: frames a second at which the source plays; negative ones play backwards. */
const SPEED = /^M2\s+(\S+)\s+(-?\d+(?:\.\d+)?)\s/i;

/** One line of the list; what later lines say of it is added to it. */
interface Event {
  /** Of the text, from 1. */
  readonly line: number;
  /** As the list counts; a dissolve has two lines of one number. */
  readonly number: number;
  readonly reel: string;
  readonly shows: boolean;
  readonly isHeard: boolean;
  /** Frames of a transition into this event's clip. */
  readonly transition: number;
  /** Source frame count. */
  readonly first: number;
  /** One past the last. */
  readonly end: number;
  /** Frames on the record side, and where there it begins. */
  readonly length: number;
  readonly recordIn: number;
  /** Of a comment behind it. */
  name: string | null;
  /** Frames a second; null at the usual one. */
  speed: number | null;
}

/** Reads a list whose time codes count at `rate`. */
export function readEdl(text: string, rate: Rate): EditRead {
  const events: Event[] = [];
  let title = "";
  const lines = text.split(/\r\n|\r|\n/);
  for (const [index, raw] of lines.entries()) {
    const line = index + 1;
    const row = raw.trim();
    if (row.length > LONGEST_LINE)
      return refuseEdit(
        "edl-event",
        line,
        `it is ${row.length} characters long; a line of an edit list has at most ${LONGEST_LINE}.`,
      );
    if (row.startsWith("TITLE:")) title = row.slice(6).trim();
    const name = CLIP_NAME.exec(row);
    // Behind the two lines of a dissolve, FROM names the clip that goes and TO the one that comes.
    if (name !== null) {
      const [last, before] = [events.at(-1), events.at(-2)];
      const goes =
        name[1]!.toUpperCase() === "FROM" &&
        last !== undefined &&
        last.transition > 0 &&
        before?.number === last.number;
      const named = goes ? before : last;
      if (named !== undefined) named.name = name[2]!.trim();
    }
    const speed = SPEED.exec(`${row} `);
    if (speed !== null)
      for (const event of events.slice(-2)) if (event.reel === speed[1]) event.speed = Number(speed[2]);
    if (!/^\d/.test(row)) continue;
    const match = EVENT.exec(row);
    if (match === null)
      return refuseEdit(
        "edl-event",
        line,
        `this is no event of a CMX 3600 list: "${row.slice(0, 60)}". It needs number, reel, channel, kind and four time codes.`,
      );
    const [shows, isHeard] = [/[VB]/i.test(match[3]!), /[AB]/i.test(match[3]!)];
    if (!shows && !isHeard) continue;
    const counts: number[] = [];
    for (const code of match.slice(6, 10) as string[]) {
      const count = readTimeCode(code, rate);
      if (count === null)
        return refuseEdit(
          "edl-time-code",
          line,
          `"${code}" is no time code at ${clockRate(rate)} frames a second.`,
        );
      counts.push(count);
    }
    const [first, end, recordIn, recordOut] = counts as [number, number, number, number];
    if (end < first || recordOut < recordIn)
      return refuseEdit("edl-backwards", line, "the out point lies before the in point.");
    events.push({
      line,
      number: Number(match[1]),
      reel: match[2]!,
      shows,
      isHeard,
      transition: Number(match[5] ?? 0),
      first,
      end,
      length: recordOut - recordIn,
      recordIn,
      name: null,
      speed: null,
    });
  }
  if (!events.some(({ shows }) => shows))
    return refuseEdit("edl-empty", null, "There is no picture event in this list.");
  const start = least(events.map(({ recordIn }) => recordIn));
  const stretches = events.map((event, i): EditClip => {
    const next = events[i + 1];
    // The clip that a dissolve leaves has no length of its own: it is seen for as long as the dissolve takes.
    const leaves = event.first === event.end && next?.number === event.number ? next.transition : 0;
    const length =
      event.speed === null
        ? event.end - event.first
        : Math.ceil((event.length * Math.abs(event.speed) * rate.denominator) / rate.numerator);
    return {
      names: [...(event.name === null ? [] : [event.name]), event.reel],
      first: event.first,
      end: event.first + Math.max(length, leaves),
      starts: event.recordIn - start,
      at: `line ${event.line}`,
    };
  });
  const wrong = stretches.findIndex((clip) => !canBeShown(clip));
  if (wrong >= 0)
    return refuseEdit(
      "edl-speed",
      events[wrong]!.line,
      "with its speed it would show more frames than there can be.",
    );
  const kept = (is: "shows" | "isHeard"): EditClip[] =>
    stretches.filter(({ first, end }, i) => events[i]![is] && end > first);
  const sound = kept("isHeard").map(({ names, first, end, starts }): EditSound => ({
    names,
    first,
    end,
    starts,
  }));
  return { ok: true, edit: { title, clips: kept("shows"), sound } };
}
