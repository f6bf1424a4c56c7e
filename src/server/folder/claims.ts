/**
 * Empty files that another program puts down as its claim on a frame. They are no pictures: the frame is missing, and
 * somebody is at it, until the claim is older than a few frames take.
 */
import { claimSeconds } from "@/core/estimate/arrivals";
import type { FileRow } from "../store/frame-files";
import type { SequenceRow } from "../store/shots";

/** Whether a file only says that somebody is at its frame. */
export const isClaim = (
  { source }: Pick<SequenceRow, "source">,
  { bytes }: Pick<FileRow, "bytes">,
): boolean => source !== null && bytes === 0;

export interface Claim {
  readonly frame: number;
  /** Milliseconds since 1970, by the file's own time. */
  readonly sinceMs: number;
  /** Older than a few frames take: whoever made it has given up. */
  readonly isOver: boolean;
}

/** Claims that were over when they were looked at, by sequence, frame and time: each is news once. */
const knownOver = new Set<string>();

/** Whether any of the claims is over that was not when they were last looked at: time has passed, and no file changed. */
export function hasNewlyOver(sequenceId: number, claims: readonly Claim[]): boolean {
  const before = knownOver.size;
  for (const { frame, sinceMs, isOver } of claims)
    if (isOver) knownOver.add(`${sequenceId} ${frame} ${sinceMs}`);
  return knownOver.size > before;
}

/** Files of a sequence, parted. */
export interface PartedFiles {
  readonly pictures: readonly FileRow[];
  readonly claims: readonly Claim[];
}

/** @param files all of the sequence, or what a claim may take is not known */
export function partClaims(
  sequence: Pick<SequenceRow, "source">,
  files: readonly FileRow[],
  nowMs = Date.now(),
): PartedFiles {
  const pictures = files.filter((file) => !isClaim(sequence, file));
  if (pictures.length === files.length) return { pictures, claims: [] };
  const allowedMs = claimSeconds(pictures) * 1000;
  const claims = files
    .filter((file) => isClaim(sequence, file))
    .map(({ frame, modifiedMs }) => ({
      frame,
      sinceMs: modifiedMs,
      isOver: nowMs - modifiedMs > allowedMs,
    }));
  return { pictures, claims };
}
