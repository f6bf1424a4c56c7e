/** `plain-tally runs`, `stop`, `resume` and `change`: what goes on, over all shots. */
import { whoCalls } from "./who";
import type { ChangeRunBody } from "@/contract/bodies";
import { PRIORITIES, type Priority } from "@/contract/run-manner";
import { inQueueOrder } from "@/core/run/queue-order";
import { goesOn } from "@/core/run/run-life";
import { RUN_ORDERS, type RunOrder } from "@/core/run/run-order";
import { POLICIES, type Policy } from "@/core/run/what-to-render";
import { changeRun } from "@/server/actions/change-run";
import { placeRuns } from "@/server/actions/order-runs";
import { resumeRun, stopRun } from "@/server/actions/stop-run";
import { pool } from "@/server/db/pool";
import { runById, runsOfHouse } from "@/server/store/runs";
import { viewRun } from "@/server/views/runs";
import { CallWrong, EXIT, type ExitCode, print, printJson, wholeNumber } from "./command";

interface Told {
  readonly json?: boolean;
}

/** Ended runs that are told beside those that go on. */
const ENDED = 20;

/** A run for programs. */
async function viewOf(id: number) {
  const run = (await runById(pool(), id))!;
  const view = await viewRun(run);
  return {
    run: id,
    state: run.state,
    held: run.held !== null,
    policy: run.policy,
    frames: run.wanted,
    priority: run.priority,
    nodes: run.nodes,
    after: run.after,
    done: view.done,
    left: view.left,
    failed: view.failed,
    deeds: view.deeds.map(({ who, did, at }) => ({ who, did, at: new Date(at).toISOString() })),
    likelyFinish: view.likelyFinish === null ? null : new Date(view.likelyFinish).toISOString(),
  };
}

export async function runsCommand({ json, all }: Told & { readonly all?: boolean }): Promise<ExitCode> {
  const told = [];
  const found = await runsOfHouse(pool(), all === true ? ENDED : 0);
  // Those that go on as they get nodes, then the others, the newest first.
  const inOrder = [
    ...inQueueOrder(found.filter((run) => goesOn(run.state))),
    ...found.filter((run) => !goesOn(run.state)),
  ];
  for (const run of inOrder)
    if (all === true || goesOn(run.state) || run.state === "stopped")
      told.push({ project: run.project, shot: run.shot, ...(await viewOf(run.id)) });
  if (json) printJson(told);
  else
    for (const r of told)
      print(
        `${r.run}  ${r.project}/${r.shot}  ${r.state}${r.held ? ", held" : ""}  ${r.done} done, ${r.left} left${r.failed > 0 ? `, ${r.failed} failed` : ""}${r.likelyFinish === null ? "" : `  likely until ${r.likelyFinish}`}`,
      );
  return EXIT.fine;
}

const idOf = (text: string): number => wholeNumber(text, "RUN", 1);

async function tellRun(id: number, { json }: Told): Promise<ExitCode> {
  const view = await viewOf(id);
  if (json) printJson(view);
  else print(`Run ${id} is ${view.state}: ${view.done} done, ${view.left} left.`);
  return EXIT.fine;
}

export async function stopCommand(
  run: string,
  options: Told & { readonly now?: boolean },
): Promise<ExitCode> {
  await stopRun(idOf(run), options.now === true ? "now" : "after-frames", whoCalls());
  return tellRun(idOf(run), options);
}

export async function resumeCommand(run: string, options: Told): Promise<ExitCode> {
  await resumeRun(idOf(run), whoCalls());
  return tellRun(idOf(run), options);
}

export interface ChangeOptions extends Told {
  readonly frames?: string;
  readonly policy?: string;
  readonly order?: string;
  readonly priority?: string;
  readonly nodes?: string;
  /** Number of a run, or `last`. */
  readonly before?: string;
  /** Number of a run, or `none`. */
  readonly after?: string;
}

/** One of a list of words. */
function oneOf<T extends string | number>(label: string, text: string, of: readonly T[]): T {
  const found = of.find((value) => String(value) === text);
  if (found === undefined) throw new CallWrong(`${label} must be one of ${of.join(", ")}; it is "${text}"`);
  return found;
}

export async function changeCommand(run: string, options: ChangeOptions): Promise<ExitCode> {
  const { frames, policy, order, priority, nodes, before, after } = options;
  const change: ChangeRunBody = {
    ...(frames === undefined ? {} : { phrase: frames }),
    ...(policy === undefined ? {} : { policy: oneOf<Policy>("--policy", policy, POLICIES) }),
    ...(order === undefined ? {} : { order: oneOf<RunOrder>("--order", order, RUN_ORDERS) }),
    ...(priority === undefined ? {} : { priority: oneOf<Priority>("--priority", priority, PRIORITIES) }),
    ...(nodes === undefined
      ? {}
      : { nodes: nodes === "all" ? null : nodes.split(",").map((name) => name.trim()) }),
    ...(after === undefined ? {} : { after: after === "none" ? null : wholeNumber(after, "--after", 1) }),
  };
  const isPlaced = before !== undefined;
  // Read before anything is done: a wrong word changes nothing.
  const place = before === undefined || before === "last" ? null : wholeNumber(before, "--before", 1);
  if (Object.keys(change).length === 0 && !isPlaced)
    throw new CallWrong(
      "say what is to change: --frames, --policy, --order, --priority, --nodes, --before or --after",
    );
  const changed =
    Object.keys(change).length === 0
      ? { added: 0, droppedOut: 0 }
      : await changeRun(idOf(run), change, whoCalls());
  if (isPlaced) await placeRuns([idOf(run)], place, whoCalls());
  if (options.json) printJson({ ...changed, ...(await viewOf(idOf(run))) });
  else await tellRun(idOf(run), options);
  return EXIT.fine;
}
