/** The same is done to several runs, each by itself; only their order is one thing. */
import type { ChangedRunsView, ChangeRunsBody, RunDeed } from "@/contract/runs-view";
import { USUAL_MANNER } from "@/contract/run-manner";
import type { Who } from "@/contract/who";
import { TallyError } from "../errors";
import { changeRun } from "./change-run";
import { placeRuns } from "./order-runs";
import { resumeRun, stopRun } from "./stop-run";

async function changeOne(
  run: number,
  what: Exclude<RunDeed, "place">,
  priority: ChangeRunsBody["priority"],
  who: Who,
): Promise<void> {
  switch (what) {
    case "stop":
      return stopRun(run, "after-frames", who);
    case "stop-now":
      return stopRun(run, "now", who);
    case "go-on":
      return resumeRun(run, who);
    case "priority":
      await changeRun(run, { priority: priority ?? USUAL_MANNER.priority }, who);
  }
}

/** @returns those of which it could not be done, with the reason */
export async function changeRuns(
  { runs, what, priority, before }: ChangeRunsBody,
  who: Who = null,
): Promise<ChangedRunsView> {
  // Its order among them is what is asked for: all of them together, or none.
  if (what === "place") {
    await placeRuns(runs, before ?? null, who);
    return { refused: [] };
  }
  const refused: { run: number; message: string }[] = [];
  for (const run of runs) {
    try {
      await changeOne(run, what, priority, who);
    } catch (error) {
      if (!(error instanceof TallyError)) throw error;
      refused.push({ run, message: error.message });
    }
  }
  return { refused };
}
