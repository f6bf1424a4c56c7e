/** What a look at a folder and a check of its files say, for programs: the same from the command line and in a browser. */
import { firstOf, lastOf } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import type { FileVerdict } from "../image/verdict";
import type { Proposal } from "./proposals";

/** A sequence as `plain-tally scan --json` prints it. @param isBelow with its folder, and what it seems to be of */
export const sequenceReport = ({ folder, camera, pass, found: s }: Proposal, isBelow: boolean): object => ({
  ...(isBelow ? { folder, camera, pass } : {}),
  name: s.name,
  first: firstOf(s.frames),
  last: lastOf(s.frames),
  count: s.frames.count,
  missing: formatPhrase(s.missing),
  widths: s.widths,
  doubles: s.doubles,
  bytes: s.bytes,
});

/** A file as `plain-tally check --json` prints it. */
export const fileReport = (path: string, v: FileVerdict): object => ({
  path,
  format: v.format,
  verdict: v.verdict,
  code: v.code,
  detail: v.detail,
  width: v.width,
  height: v.height,
  bitDepth: v.bitDepth,
  channels: v.channels,
  ...(v.share === null ? {} : { share: v.share }),
  ...(v.notes.length === 0 ? {} : { notes: v.notes }),
});
