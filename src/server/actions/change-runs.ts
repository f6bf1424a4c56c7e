/** The same is done to several runs, each by itself. */
import type { ChangedRunsView, ChangeRunsBody } from "@/contract/runs-view";
import { USUAL_MANNER } from "@/contract/run-manner";
import type { Who } from "@/contract/who";
import { TallyError } from "../errors";
import { changeRun } from "./change-run";
import { resumeRun, stopRun } from "./stop-run";

async function changeOne(run: number, { what, priority }: ChangeRunsBody, who: Who): Promise<void> {
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
export async function changeRuns(body: ChangeRunsBody, who: Who = null): Promise<ChangedRunsView> {
  const refused: { run: number; message: string }[] = [];
  for (const run of body.runs) {
    try {
      await changeOne(run, body, who);
    } catch (error) {
      if (!(error instanceof TallyError)) throw error;
      refused.push({ run, message: error.message });
    }
  }
  return { refused };
}
