/**
 * Which run of several a page is about.
 * The strip, the Run bench and the ledger agree on it, or they would tell of different runs.
 */
import { goesOn } from "@/core/run/run-life";
import type { RunView } from "@/contract/run-view";

/** The run on show: one that goes on, else the newest if it was stopped with frames left. */
export const runOnShow = (runs: readonly RunView[]): RunView | null =>
  runs.find((r) => goesOn(r.state)) ?? (runs[0]?.state === "stopped" ? runs[0] : null);
