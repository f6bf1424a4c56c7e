/** Which run of several a page is about. */
import type { RunView } from "@/contract/views";
import { goesOn } from "@/core/run/run-life";

/** The run on show: one that goes on, else the newest if it was stopped with frames left. */
export const runOnShow = (runs: readonly RunView[]): RunView | null =>
  runs.find((r) => goesOn(r.state)) ?? (runs[0]?.state === "stopped" ? runs[0] : null);
