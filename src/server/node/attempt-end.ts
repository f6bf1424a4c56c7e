/**
 * How an attempt that made no frame ends: the lease lost, the node asked to end, or a failure with its log.
 */
import type { Pace } from "@/core/run/batch";
import { LeaseLost, TallyError } from "../errors";
import { RenderFailed } from "../engines/engine";
import { fail } from "../queue/failures";
import { giveBack } from "../queue/lease";
import { isSavedBeyond } from "../store/checkpoints";
import { holdForSpace } from "./disk-space";
import { sayAll } from "./attempt-log";
import type { AttemptLines } from "./attempt-lines";
import type { AttemptHost, AttemptSignals } from "./attempt-host";
import { FAULTS, type FaultCode, fileFaultCode } from "@/contract/faults";
import type { LeasedFrame } from "../queue/leased-frame";
import { isDatabaseAway } from "../db/away";

/** What became of an attempt, as far as its node is concerned. */
export type AttemptEnd =
  { readonly kind: "made"; readonly pace: Pace } | { readonly kind: "failed" | "given-back" };

/** Ends an attempt that made no frame: lease lost, shutdown, or a failure with its log. */
export async function giveUp(
  host: AttemptHost,
  lease: LeasedFrame,
  error: unknown,
  signals: AttemptSignals,
  { folder, said }: { readonly folder: string | null; readonly said: AttemptLines },
): Promise<AttemptEnd> {
  const { pool } = host;
  // A frame that saves more each time comes to its end; one that saves nothing never would.
  const hasComeOn = ({ sequenceId, frame, spentSeconds }: LeasedFrame): Promise<boolean> =>
    isSavedBeyond(pool, sequenceId, frame, spentSeconds);
  if (error instanceof LeaseLost) {
    host.log(
      "warning",
      `${lease.shot} ${lease.frame}: stopped, or the lease went to another node; the work is not kept`,
    );
  } else if (isDatabaseAway(error) || (signals.stop.aborted && host.failure() === null)) {
    // Neither the frame nor the scene has to do with a database that is away.
    await host.whileAway(() => giveBack(pool, lease));
  } else {
    const { code, message } = failureOf(host.failure() ?? error);
    host.log("error", `${lease.shot} ${lease.frame}: ${message}`);
    const { blame } = FAULTS[code];
    await host.whileAway(async () => {
      if (blame === "disk") await holdForSpace(pool, lease.runId, 0);
      const isOfPlace =
        blame === "disk" ||
        (blame === "place" && !(await host.proveReady(lease.runId))) ||
        (blame === "cluster" && (code !== "cluster-time" || (await hasComeOn(lease))));
      await fail(pool, lease, { code, message, isOfPlace }).catch((lost: unknown) => {
        if (!(lost instanceof LeaseLost)) throw lost;
      });
    });
    said.say("error", message);
    await sayAll(pool, lease, host.name, folder, said);
    return { kind: "failed" };
  }
  return { kind: "given-back" };
}

/** What goes into the attempt: a told failure as it is; one of the file system by its number. */
function failureOf(error: unknown): { readonly code: FaultCode; readonly message: string } {
  if (error instanceof RenderFailed || error instanceof TallyError) return error;
  const { code, message } = error as NodeJS.ErrnoException;
  return typeof code === "string"
    ? { code: fileFaultCode(code), message: `The frame cannot be put in its place: ${message}` }
    : { code: "node-error", message };
}
