/** Runs over all shots. */
import pLimit from "p-limit";
import type { HouseRunsView, HouseRunView } from "@/contract/runs-view";
import { inQueueOrder } from "@/core/run/queue-order";
import { goesOn } from "@/core/run/run-life";
import { pool } from "../db/pool";
import { type RunOfHouse, runsOfHouse } from "../store/runs";
import { viewRun } from "./runs";

/** Ended runs that are looked through, and shown beside those that go on. */
const LOOKED_THROUGH = 200;
const SHOWN = 30;
/** Each asks several things at once; the pool's other connections are for what people click. */
const AT_ONCE = 3;

const viewOf = async (run: RunOfHouse): Promise<HouseRunView> => ({
  project: run.project,
  shot: run.shot,
  title: run.title,
  run: await viewRun(run),
});

/** Those that go on in the order in which they get nodes. */
export async function viewHouseRuns(): Promise<HouseRunsView> {
  const few = pLimit(AT_ONCE);
  const all = await runsOfHouse(pool(), LOOKED_THROUGH);
  const open = inQueueOrder(all.filter((run) => goesOn(run.state)));
  const ended = all.filter((run) => !goesOn(run.state)).slice(0, SHOWN);
  const [openViews, endedViews] = await Promise.all(
    [open, ended].map((runs) => Promise.all(runs.map((run) => few(() => viewOf(run))))),
  );
  return { open: openViews!, ended: endedViews! };
}
