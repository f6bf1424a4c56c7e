/**
 * A leased handover from its beginning to its end: made under a temporary name, given its own under the lease, told.
 *
 *     made      the file has its name, and the row says what it is
 *     failed    nothing is there, and the row says why
 *     given back  the maker was asked to end; the next one begins anew
 *     lost      somebody else has it, or it was stopped; nothing is kept
 */
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { isDatabaseAway } from "../db/away";
import { type Pool, transact } from "../db/pool";
import { LeaseLost, TallyError } from "../errors";
import { temporaryOf } from "../files/layout";
import { putInFreePlace, putInPlace, syncFolder } from "../files/put-in-place";
import { requireMark } from "../files/project-mark";
import {
  failHandover,
  finishHandover,
  giveBackHandover,
  handoverById,
  type HandoverLease,
  holdHandover,
  renewHandover,
} from "../store/handovers";
import { projectById } from "../store/projects";
import { acceptedFiles, removeFiles } from "./close-case";
import { makeHandover } from "./make";
import { placeOfHandover } from "./place";
import { tellOfHandover } from "./tell";

export interface HandoverHost {
  readonly pool: Pool;
  readonly leaseSeconds: number;
  /** Whoever makes it is asked to end: it is given back. */
  readonly stop: AbortSignal;
  readonly onProgress?: (share: number) => void;
  /** Tries again while the database is away. */
  readonly whileAway: (work: () => Promise<void>) => Promise<void>;
}

export type HandoverAttemptEnd = "made" | "failed" | "given-back" | "lost";

const UNREADABLE = { code: "handover-wrong", message: "What was wanted cannot be read any more." };
const BEAT_MS = 700;
/** Lines of the log, and characters of a line. */
const LINES_KEPT = 500;
const LINE_KEPT = 1_000;

/** All of a file, or of a folder's files. */
async function bytesOf(place: string): Promise<number> {
  const stat = await fs.stat(place);
  if (!stat.isDirectory()) return stat.size;
  let sum = 0;
  for (const name of await fs.readdir(place)) sum += (await fs.stat(path.join(place, name))).size;
  return sum;
}

/** What is told of an error that nobody expected, too: a person waits for it. */
const faultOf = (error: unknown): { readonly code: string; readonly message: string } =>
  error instanceof TallyError
    ? { code: error.code, message: error.message }
    : { code: "node-error", message: (error as Error).message };

/** Gives it its name, once. @throws TallyError `handover-taken` */
function giveName(temporary: string, place: string, isFolder: boolean, isSecond: boolean): void {
  // The name is ours: what an earlier maker of it left there is the same again.
  if (isSecond && !isFolder) putInPlace(temporary, place);
  else if (!putInFreePlace(temporary, place)) throw new TallyError("handover-taken", { path: place });
}

/** @throws what is no matter of the handover: a database that is away for good */
export async function attemptHandover(host: HandoverHost, lease: HandoverLease): Promise<HandoverAttemptEnd> {
  const { pool, leaseSeconds } = host;
  const row = await handoverById(pool, lease.id);
  if (row === null) {
    await failHandover(pool, lease, UNREADABLE, "");
    return "failed";
  }
  const log: string[] = [];
  const say = (line: string): void => {
    if (log.length < LINES_KEPT) log.push(line.slice(0, LINE_KEPT));
  };
  const abort = new AbortController();
  const over = new AbortController();
  const letGo = (): void => abort.abort(new Error("stop"));
  host.stop.addEventListener("abort", letGo, { once: true });
  if (host.stop.aborted) letGo();
  let share = 0;
  const beats = (async (): Promise<void> => {
    while (!over.signal.aborted) {
      await pause(Math.min(BEAT_MS, (leaseSeconds * 1000) / 4), undefined, { signal: over.signal }).catch(
        () => undefined,
      );
      if (over.signal.aborted) return;
      try {
        if (!(await renewHandover(pool, lease, share, leaseSeconds))) abort.abort(new LeaseLost());
      } catch (error) {
        if (!isDatabaseAway(error)) abort.abort(error);
      }
    }
  })();
  let temporary: string | null = null;
  try {
    const place = await placeOfHandover(row);
    if (row.outside === null) {
      const project = await projectById(pool, row.projectId);
      await requireMark(project!);
      if (row.wish.into === null) await fs.mkdir(path.dirname(place), { recursive: true });
    }
    // What makers that are gone have left.
    for (let count = 1; count < lease.count; count++)
      await fs.rm(temporaryOf(place, `${row.id}-${count}`), { recursive: true, force: true });
    temporary = temporaryOf(place, `${row.id}-${lease.count}`);
    const closed =
      row.wish.as === "case" && row.sequenceId !== null ? await acceptedFiles(row.sequenceId) : [];
    const made = await makeHandover(row, temporary, {
      signal: abort.signal,
      say,
      onProgress: (now) => {
        share = now;
        host.onProgress?.(now);
      },
    });
    abort.signal.throwIfAborted();
    const isFolder = row.wish.as === "frames";
    const bytes = await bytesOf(temporary);
    let isNamed = false;
    await host.whileAway(() =>
      transact(async (tx) => {
        if (!(await holdHandover(tx, lease))) throw new LeaseLost();
        if (!isNamed) giveName(temporary!, place, isFolder, lease.count > 1);
        isNamed = true;
        if (isFolder) syncFolder(path.dirname(place));
        const result = {
          path: place,
          folder: made.folder,
          bytes,
          frames: made.frames,
          rate: `${made.rate.numerator}/${made.rate.denominator}`,
          seconds: made.seconds,
          warnings: made.warnings,
        };
        await finishHandover(tx, lease, { madeFrom: made.madeFrom, result, log: log.join("\n") });
      }, pool),
    );
    await removeFiles(closed);
    await host.whileAway(() => tellOfHandover(row, { state: "done", path: place }));
    return "made";
  } catch (error) {
    const why = abort.signal.aborted ? abort.signal.reason : error;
    if (why instanceof LeaseLost) return "lost";
    if (host.stop.aborted) {
      await giveBackHandover(pool, lease);
      return "given-back";
    }
    say((why as Error).message);
    const fault = faultOf(why);
    let isTold = false;
    await host.whileAway(async () => {
      isTold = await failHandover(pool, lease, fault, log.join("\n"));
    });
    if (!isTold) return "lost";
    await host.whileAway(() => tellOfHandover(row, { state: "failed", why: fault.message }));
    return "failed";
  } finally {
    over.abort();
    host.stop.removeEventListener("abort", letGo);
    await beats;
    if (temporary !== null) await fs.rm(temporary, { recursive: true, force: true });
  }
}
