/**
 * Puts the finished temporary files of a frame in their places. A finished file is never visible
 * half-written, and a
 * node that lost its lease never puts its file over a successor's: the rename happens while the
 * lease's row is locked.
 */
import fs from "node:fs";
import path from "node:path";
import type { FileVerdict } from "@/core/image/verdict";
import { checkFile } from "@/core/image/check-file";
import { type Pool, transact, type Tx } from "../db/pool";
import { LeaseLost } from "../errors";
import { sha256 } from "../files/content";
import { imageTools } from "../files/image-tools";
import { type FrameOutput, type PassOutput, RenderFailed, secondsOf } from "../engines/engine";
import { finish, holdLease } from "../queue/lease";
import { appendFrameEvent } from "../store/events";
import {
  closeFindingsAsFixed,
  insertFindings,
  noteSamePicture,
  openFindingsOfFrames,
  isOfPeople,
} from "../store/findings";
import { shownPixels } from "../files/showable";
import { saveFile } from "../store/frame-files";
import { saveProofFile } from "../store/proofs";
import type { LogLine } from "./attempt-lines";
import { withAgo } from "./attempt-log";
import { dropCheckpoint } from "./place-checkpoint";
import { takesSamples } from "../scenes/renderers";
import { originOf } from "../files/origin";
import { asideOf } from "./leased-work";
import {
  type Aside,
  forgetAside,
  keepAside,
  prepareAside,
  putInPlace,
  syncFolder,
} from "../files/put-in-place";
import type { PassPlace } from "../engines/frame-job";
import { appendLines } from "../store/attempt-lines";
import type { LeasedFrame } from "../queue/leased-frame";
import { readRegular } from "../files/read-regular";

/**
 * Between the lock and the rename nothing waits; a node that was put to sleep there longer than this gives up
 * (its transaction was cut after 10 s).
 */
const LONGEST_HOLD_MS = 5_000;

/** The file of one pass. */
export interface FinishedPass extends PassPlace {
  readonly sequenceId: number;
}

export interface FinishedFrame {
  readonly lease: LeasedFrame;
  /** What the engine measured. */
  readonly output: FrameOutput;
  /** Whole files under temporary names. */
  readonly passes: readonly FinishedPass[];
  /** Absolute, on this machine. */
  readonly versionFolder: string;
  /** Where saved samples of the frame lie that nobody needs any more; null to keep them. */
  readonly dropCheckpointIn: string | null;
  /** Its name. */
  readonly node: string;
  /** Share of the machine that others used; null where it cannot be told. */
  readonly otherLoad: number | null;
  /** Files that the render had to do without. */
  readonly without: readonly string[];
  /** What was said while it was made: told with the frame, and never before it. */
  readonly lines: readonly LogLine[];
}

interface CheckedPass extends FinishedPass {
  readonly verdict: FileVerdict;
  /** SHA-256 of the bytes. */
  readonly content: string;
  readonly output: PassOutput;
  /** A person rejected the picture that is there, and this is the same one. */
  readonly isRejectedOne: boolean;
  /** What it replaces. */
  readonly aside: Aside;
  /** A transaction that is run again finds the file in its place. */
  isPlaced: boolean;
}

/**
 * Reads and checks a finished file: under its temporary name, or already in its place when an earlier try got
 * so far and its commit did not.
 */
async function readFinished(
  pool: Pool,
  pass: FinishedPass,
  { lease, output, versionFolder }: FinishedFrame,
): Promise<CheckedPass> {
  const { temporary, final } = pass;
  let bytes: Buffer;
  let isPlaced = false;
  try {
    bytes = await readRegular(temporary);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "ENOENT") throw error;
    const there = await readRegular(final).catch(() => null);
    // Whoever took the frame over has cleared it away.
    if (there === null || originOf(there).attempt !== lease.attemptId) throw new LeaseLost();
    bytes = there;
    isPlaced = true;
  }
  const verdict = checkFile(final, bytes, imageTools);
  if (verdict.verdict !== "good")
    throw new RenderFailed("wrote-damaged-file", { what: `The ${pass.pass} file`, detail: verdict.detail });
  return {
    ...pass,
    verdict,
    content: sha256(bytes),
    isPlaced,
    aside: await prepareAside(final, asideOf(lease, versionFolder, pass.pass), lease.attemptId),
    isRejectedOne: !isPlaced && lease.kind === "sequence" && (await isRejectedOne(pool, pass, lease, bytes)),
    output: output.passes.find((p) => p.pass === pass.pass)!,
  };
}

/**
 * Whether a frame that a person rejected has come out the same. Files differ by who made them: what is shown of
 * them is compared. A file that cannot be shown is another one.
 */
async function isRejectedOne(
  pool: Pool,
  { final, pass, sequenceId }: FinishedPass,
  lease: LeasedFrame,
  bytes: Buffer,
): Promise<boolean> {
  const open = await openFindingsOfFrames(pool, sequenceId, [lease.frame]);
  if (!open.some((f) => isOfPeople(f.source))) return false;
  try {
    const [before, now] = await Promise.all(
      [await readRegular(final), bytes].map((file) => shownPixels(path.basename(final), file, pass)),
    );
    return before!.width === now!.width && Buffer.from(before!.data).equals(Buffer.from(now!.data));
  } catch {
    return false;
  }
}

/**
 * Checks the temporary files, puts them in place and closes lease, attempt and findings in one transaction.
 */
export async function placeFrame(pool: Pool, frame: FinishedFrame): Promise<void> {
  const { lease, output, versionFolder } = frame;
  const checked: CheckedPass[] = [];
  for (const pass of frame.passes) checked.push(await readFinished(pool, pass, frame));
  const replaced: string[] = [];
  const placing = transact(async (tx) => {
    await holdLease(tx, lease);
    const held = performance.now();
    const same: string[] = [];
    let bytes = 0;
    for (const pass of checked) {
      // A transaction that is run again (deadlock, a commit that was cut) finds the file in its place.
      if (!pass.isPlaced) {
        const aside = keepAside(pass.aside, pass.final);
        if (aside !== null)
          replaced.push(`the replaced file is kept as ${path.relative(versionFolder, aside)}`);
        if (performance.now() - held > LONGEST_HOLD_MS) throw new LeaseLost();
        putInPlace(pass.temporary, pass.final);
        pass.isPlaced = true;
      } else syncFolder(path.dirname(pass.final));
      const stat = fs.statSync(pass.final);
      bytes += stat.size;
      await (lease.kind === "proof" ? recordProof : recordFile)(tx, frame, pass, stat);
    }
    if (frame.dropCheckpointIn !== null) await dropCheckpoint(tx, lease, frame.dropCheckpointIn);
    await finish(tx, lease, { ...output, otherLoad: frame.otherLoad });
    let fixed = 0;
    if (lease.kind === "sequence") {
      for (const { sequenceId, pass, isRejectedOne: isSame } of checked) {
        fixed += await closeFindingsAsFixed(tx, sequenceId, lease.frame, isSame);
        if (isSame) {
          await noteSamePicture(tx, sequenceId, lease.frame);
          same.push(`the ${pass} picture is the same as the one that was rejected: its flag stays`);
        }
        if (frame.without.length > 0)
          await insertFindings(tx, sequenceId, "node", "made-without-file", [
            { frame: lease.frame, text: `made without ${frame.without.join(", ")} on ${frame.node}` },
          ]);
      }
    }
    const told = (text: string): LogLine => ({ level: "info", text });
    const ended = [
      ...frame.lines,
      ...[...replaced, ...same].map(told),
      ...(fixed === 0 ? [] : [told(`${fixed} finding(s) closed as fixed`)]),
      told(
        `written after ${secondsOf(output).toFixed(2)} s, ${bytes} bytes${output.stoppedBy === "samples" || output.stoppedBy === null ? "" : `; stopped by ${output.stoppedBy} at ${output.samples} samples`}`,
      ),
    ];
    await appendLines(tx, lease.attemptId, withAgo(ended));
    await appendFrameEvent(tx, "files", lease, lease.frame);
  }, pool);
  await placing.finally(() => Promise.all(checked.map((pass) => forgetAside(pass.aside))));
}

/** The row of the file, from what was measured: nobody need look at it again. */
async function recordFile(
  tx: Tx,
  { lease, output, node }: FinishedFrame,
  pass: CheckedPass,
  stat: fs.Stats,
): Promise<void> {
  await saveFile(tx, pass.sequenceId, lease.frame, {
    name: path.basename(pass.final),
    bytes: stat.size,
    modifiedMs: stat.mtimeMs,
    content: pass.content,
    verdict: pass.verdict,
    look: pass.fingerprints.look,
    effort: pass.fingerprints.effort,
    samples: takesSamples(lease.plan.renderer) ? output.samples : null,
    attemptId: lease.attemptId,
    node,
    seconds: secondsOf(output),
    luminance: pass.output.luminance,
    noise: pass.output.noise,
  });
}

/** Proofs have rows of their own and never enter a tally. */
async function recordProof(
  tx: Tx,
  { lease, output, node, versionFolder }: FinishedFrame,
  pass: CheckedPass,
  stat: fs.Stats,
): Promise<void> {
  await saveProofFile(tx, {
    runId: lease.runId,
    sequenceId: pass.sequenceId,
    frame: lease.frame,
    attemptId: lease.attemptId,
    node,
    path: path.relative(versionFolder, pass.final),
    bytes: stat.size,
    content: pass.content,
    width: pass.verdict.width!,
    height: pass.verdict.height!,
    ...pass.fingerprints,
    samples: output.samples,
    luminance: pass.output.luminance,
    noise: pass.output.noise,
  });
}
