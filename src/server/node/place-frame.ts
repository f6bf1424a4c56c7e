/**
 * Puts a finished temporary file in its place. A finished file is never visible half-written, and a
 * node that lost its lease never puts its file over a successor's: the rename happens while the
 * lease's row is locked.
 */
import fs from "node:fs";
import fsp from "node:fs/promises";
import path from "node:path";
import { checkFile } from "@/core/image/check-file";
import type { Fingerprints } from "@/core/plan/fingerprint";
import { padFrame } from "@/core/naming/pattern";
import { type Pool, transact } from "../db/pool";
import { LeaseLost } from "../errors";
import { sha256 } from "../files/content";
import { pngTools } from "../files/png-tools";
import { type FrameOutput, RenderFailed } from "../engines/engine";
import { finish, holdLease, type LeasedFrame } from "../queue/lease";
import { appendEvent } from "../store/events";
import { closeFindingsAsFixed, insertFindings } from "../store/findings";
import { saveFile } from "../store/frame-files";
import { appendLines } from "../store/runs";
import { originOf } from "../work/folder-state";

/** Between the lock and the rename nothing waits; a node that was put to sleep there longer than this gives up (its transaction was cut after 10 s). */
const LONGEST_HOLD_MS = 5_000;

export interface FinishedFrame {
  readonly lease: LeasedFrame;
  readonly output: FrameOutput;
  readonly temporary: string;
  readonly final: string;
  readonly versionFolder: string;
  readonly fingerprints: Fingerprints;
  readonly node: string;
  /** Files that the render had to do without. */
  readonly without: readonly string[];
}

/** Keeps the file that is about to be replaced: a second name for it, so that there is no moment without a frame. */
function keepAside(final: string, versionFolder: string, lease: LeasedFrame): string | null {
  if (!fs.existsSync(final)) return null;
  const { name, ext } = path.parse(final);
  const folder = path.join(versionFolder, ".tally", "aside", lease.camera, lease.pass);
  fs.mkdirSync(folder, { recursive: true });
  const aside = path.join(folder, `${name}.before-${padFrame(lease.attemptId, 6)}${ext}`);
  fs.rmSync(aside, { force: true });
  try {
    fs.linkSync(final, aside);
  } catch {
    // Not every share knows hard links.
    fs.copyFileSync(final, aside);
  }
  return aside;
}

function syncFolder(folder: string): void {
  const handle = fs.openSync(folder, "r");
  try {
    fs.fsyncSync(handle);
  } finally {
    fs.closeSync(handle);
  }
}

/** The finished file: under its temporary name, or already in its place when an earlier try got so far and its commit did not. */
async function readFinished({ lease, temporary, final }: FinishedFrame): Promise<{ readonly bytes: Buffer; readonly wasPlaced: boolean }> {
  try {
    return { bytes: await fsp.readFile(temporary), wasPlaced: false };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "ENOENT") throw error;
    const bytes = await fsp.readFile(final).catch(() => null);
    if (bytes !== null && originOf(bytes).attempt === lease.attemptId) return { bytes, wasPlaced: true };
    // Whoever took the frame over has cleared it away.
    throw new LeaseLost();
  }
}

/** Checks the temporary file, puts it in place and closes lease, attempt and findings in one transaction. */
export async function placeFrame(pool: Pool, frame: FinishedFrame): Promise<void> {
  const { lease, temporary, final } = frame;
  const { bytes, wasPlaced } = await readFinished(frame);
  let isPlaced = wasPlaced;
  let aside: string | null = null;
  const verdict = checkFile(final, bytes, pngTools);
  if (verdict.verdict !== "good") throw new RenderFailed("wrote-damaged-file", `The file that was just written is damaged: ${verdict.detail}`);
  const content = sha256(bytes);
  await transact(async (tx) => {
    await holdLease(tx, lease);
    const held = performance.now();
    // A transaction that is run again (deadlock, a commit that was cut) finds the file in its place.
    if (!isPlaced) {
      aside = keepAside(final, frame.versionFolder, lease);
      if (performance.now() - held > LONGEST_HOLD_MS) throw new LeaseLost();
      fs.renameSync(temporary, final);
      isPlaced = true;
    }
    syncFolder(path.dirname(final));
    const stat = fs.statSync(final);
    const { output } = frame;
    await saveFile(tx, lease.sequenceId, lease.frame, {
      name: path.basename(final), bytes: stat.size, modifiedMs: stat.mtimeMs, content, verdict, look: frame.fingerprints.look, samples: output.samples,
      attemptId: lease.attemptId, node: frame.node, seconds: output.startupSeconds + output.renderSeconds + output.writeSeconds, luminance: output.luminance,
    });
    await finish(tx, lease, output);
    const fixed = await closeFindingsAsFixed(tx, lease.sequenceId, lease.frame);
    if (frame.without.length > 0) await insertFindings(tx, lease.sequenceId, "node", "made-without-file", [{ frame: lease.frame, text: `made without ${frame.without.join(", ")} on ${frame.node}` }]);
    const total = output.startupSeconds + output.renderSeconds + output.writeSeconds;
    await appendLines(tx, lease.attemptId, [
      ...(aside === null ? [] : [{ level: "info" as const, text: `the replaced file is kept as ${path.relative(frame.versionFolder, aside)}` }]),
      ...(fixed === 0 ? [] : [{ level: "info" as const, text: `${fixed} finding(s) closed as fixed` }]),
      { level: "info", text: `written after ${total.toFixed(2)} s, ${stat.size} bytes` },
    ]);
    await appendEvent(tx, "files", lease.sequenceId, lease.runId);
  }, pool);
}
