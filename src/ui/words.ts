/**
 * Figures as people read them: durations, clock times, sizes, counts.
 * One way of writing each kind of figure, on every page: a figure that looks different in two places is
 * taken for two figures. Times are of this browser's clock, in 24 hours.
 */

import type { DeedKind, DeedView } from "@/contract/who";
import type { AwaitedWhy } from "@/core/run/awaited";
import type { NodeRest, Standstill } from "@/core/run/standstill";
import { wantedText } from "@/core/run/who-takes";

export const count = (n: number): string => n.toLocaleString("en");

/** "1 frame", "96 frames": of frames alone, never of files. */
export const frames = (n: number): string => `${count(n)} frame${n === 1 ? "" : "s"}`;

/** 0.62 s, 41 s, 12 min 5 s, 2 h 14 min. */
export function duration(seconds: number): string {
  if (seconds < 10) return `${seconds.toFixed(seconds < 1 ? 2 : 1)} s`;
  const whole = Math.round(seconds);
  if (whole < 60) return `${whole} s`;
  const minutes = Math.floor(whole / 60);
  if (minutes < 10) return `${minutes} min ${whole % 60} s`;
  if (minutes < 60) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** Elapsed time of something that goes on: 0:41, 12:05. */
export const stopwatch = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;

/** How long a frame has been in work, and how long it may take.
 * @param passed seconds since that was told
 */
export const workTime = (
  { seconds, expectedSeconds }: { readonly seconds: number; readonly expectedSeconds: number | null },
  passed: number,
): string =>
  `${stopwatch(seconds + passed)}${expectedSeconds === null ? "" : ` of about ${stopwatch(expectedSeconds)}`}`;

/** What a frame takes, and how many come out of all nodes together. */
export function paceText(secondsAFrame: number, framesAMinute: number | null): string {
  const pace =
    framesAMinute === null
      ? ""
      : framesAMinute >= 1
        ? `, ${framesAMinute.toFixed(1)} a minute`
        : `, ${(framesAMinute * 60).toFixed(1)} an hour`;
  return `${duration(secondsAFrame)} a frame${pace}`;
}

/** What somebody did, in the past. */
const DEED_WORD: Readonly<Record<DeedKind, string>> = {
  start: "started",
  stop: "stopped",
  "stop-now": "stopped at once",
  "go-on": "let go on",
  change: "changed",
  "put-back": "put a frame back",
  "take-back": "took a share back",
  choose: "chosen",
  open: "opened again",
  pause: "paused",
  "let-in": "let in again",
  "set-aside": "set aside",
  make: "made",
  archive: "archived",
  "bring-back": "brought back",
  remove: "a shot removed",
  discard: "discarded",
  invite: "invited",
  revoke: "turned out",
  send: "sent to the cluster",
  "send-back": "taken back from the cluster",
};

/** "chosen by Mara 14:02: less grain"; where nobody gave a name or a reason, without one. */
export const deedText = ({ who, did, at, why }: DeedView, now: number): string =>
  `${DEED_WORD[did]}${who === null ? "" : ` by ${who}`} ${clock(at, now)}${why === null ? "" : `: ${why}`}`;

/** Clock time, with seconds when it is near and with the day when it is not today. */
export function clock(at: number, now: number): string {
  const time = new Date(at);
  const near = Math.abs(at - now) < 10 * 60_000;
  const text = time.toLocaleTimeString("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
    ...(near ? { second: "2-digit" } : {}),
  });
  return time.toDateString() === new Date(now).toDateString()
    ? text
    : `${time.toLocaleDateString("en-GB", { weekday: "short" })} ${text}`;
}

/** When it is likely to end, and when nine times in ten. */
export function finishText(likely: number, late: number, now: number): string {
  const [soon, then] = [clock(likely, now), clock(late, now)];
  return soon === then ? `likely ${soon}` : `likely ${soon}, late ${then}`;
}

/** v001, v002 and v004. */
export const listed = (names: readonly string[]): string =>
  names.length < 2 ? names.join("") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;

const ORDINAL_RULES = new Intl.PluralRules("en", { type: "ordinal" });
const ORDINAL_ENDINGS: Readonly<Record<string, string>> = { one: "st", two: "nd", few: "rd", other: "th" };
/** Of a step from 2 up: every 2nd, 3rd, 4th, 21st frame. */
export const ordinal = (n: number): string => `${n}${ORDINAL_ENDINGS[ORDINAL_RULES.select(n)]}`;

/** "Every frame", "Every 3rd frame". */
export const everyFrame = (step: number): string =>
  step === 1 ? "Every frame" : `Every ${ordinal(step)} frame`;

/** What keeps a node, behind its name. */
const REST_TEXT: Readonly<Record<NodeRest, string>> = {
  paused: "is paused",
  "off-hours": "is outside its hours",
  "set-aside": "is set aside",
  away: "is not heard of",
  stopped: "has ended",
};

/** More than so many are counted: a line has no room for all of a farm. */
const NAMED_RESTS = 3;

/** Why a run that is waited for is not good yet, as the end of a sentence. */
function awaitedText(why: AwaitedWhy): string {
  switch (why.code) {
    case "goes":
      return ", which goes on";
    case "stopped":
      return ", which was stopped with frames left";
    case "not-good":
      return `: ${listed([
        ...(why.setAside > 0 ? [`${frames(why.setAside)} set aside`] : []),
        ...(why.findings > 0 ? [`${frames(why.findings)} with a finding`] : []),
      ])}`;
  }
}

/** Why a run makes nothing, in one sentence; null where something else on the page tells it. */
export function standstillText(still: Standstill, now: number): string | null {
  switch (still.code) {
    case "held":
      return null;
    case "begins-later":
      return `Begins ${clock(still.at, now)}.`;
    case "awaits":
      return `Waits for run ${still.run} (${still.shot})${awaitedText(still.why)}.`;
    case "at-limit":
      return `Waits: ${count(still.atOnce)} ${still.atOnce === 1 ? "frame" : "frames"} of ${still.renderer} may be in work at once, and other runs have ${still.atOnce === 1 ? "it" : "them"} now.`;
    case "in-array":
      return still.fault === null
        ? `Waits for machines of the cluster${still.reason === null ? "" : ` (${still.reason})`}.`
        : `The cluster takes no more of it. ${still.fault}`;
    case "no-node":
      return still.wanted === null
        ? "Stands still: no node is at work. Start one."
        : `Stands still: ${listed(still.wanted.map(wantedText))} ${still.wanted.length === 1 ? "has" : "have"} never been here.`;
    case "nodes-rest": {
      const rests = new Set(still.nodes.map((n) => n.rest));
      const [only] = [...rests];
      if (rests.size === 1 && still.nodes.length > NAMED_RESTS)
        return `Stands still: each of its ${count(still.nodes.length)} nodes ${REST_TEXT[only!]}.`;
      const named = still.nodes.slice(0, NAMED_RESTS).map((n) => `${n.name} ${REST_TEXT[n.rest]}`);
      const more = still.nodes.length - named.length;
      return `Stands still: ${listed([...named, ...(more > 0 ? [`${count(more)} more rest`] : [])])}.`;
    }
  }
}

/** In powers of ten, as disks are sold and tools list them. */
export function size(bytes: number): string {
  if (bytes < 1e3) return `${Math.round(bytes)} B`;
  if (bytes < 1e6) return `${(bytes / 1e3).toFixed(0)} kB`;
  return bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(1)} GB`;
}
