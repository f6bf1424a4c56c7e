/** `plain-tally cluster`: runs that a batch system hands to its machines. */
import { BOUNDS } from "@/contract/bounds";
import { checkSendRun } from "@/contract/cluster";
import { groupMark } from "@/core/run/who-takes";
import { changeRun } from "@/server/actions/change-run";
import { sendRun, takeRunBack } from "@/server/actions/send-run";
import { lookAtCluster } from "@/server/cluster/follow-cluster";
import { pool } from "@/server/db/pool";
import { dispatchOfRun, openDispatches } from "@/server/store/dispatches";
import { ARRAY_GROUP } from "@/server/store/nodes";
import { CallWrong, complain, EXIT, type ExitCode, print, printJson, wholeNumber } from "./command";
import { whoCalls } from "./who";

export interface SendOptions {
  readonly frames?: string;
  readonly partition?: string;
  readonly minutes?: string;
  readonly memory?: string;
  readonly only?: boolean;
  readonly json?: boolean;
}

const idOf = (text: string): number => wholeNumber(text, "RUN", 1);

async function tell(id: number): Promise<string> {
  const view = await dispatchOfRun(pool(), id);
  if (view === null) return `${id}  is not with the batch system`;
  const { jobs, waits, held, works, reason, fault } = view;
  return [
    `${id}  arrays ${jobs.length === 0 ? "none" : jobs.join(", ")}`,
    `${works} in work, ${waits} waiting${held > 0 ? `, ${held} held` : ""}`,
    ...(reason === null ? [] : [`(${reason})`]),
    ...(fault === null ? [] : [`not submitted: ${fault}`]),
  ].join("  ");
}

export async function sendCommand(run: string, options: SendOptions): Promise<ExitCode> {
  const id = idOf(run);
  const wish = {
    frames: options.frames ?? null,
    partition: options.partition ?? null,
    minutes: options.minutes === undefined ? null : wholeNumber(options.minutes, "--minutes", 1),
    memoryMb: options.memory === undefined ? null : wholeNumber(options.memory, "--memory", 16),
  };
  const checked = checkSendRun(wish);
  if (!checked.ok)
    throw new CallWrong(
      `${checked.faults[0]!.path.slice(1)} ${checked.faults[0]!.message}; --minutes is ${BOUNDS.clusterMinutes} at most`,
    );
  await sendRun(id, wish, whoCalls());
  if (options.only === true) await changeRun(id, { nodes: [groupMark(ARRAY_GROUP)] }, whoCalls());
  if (options.json) printJson(await dispatchOfRun(pool(), id));
  else print(await tell(id));
  return EXIT.fine;
}

export async function backCommand(run: string): Promise<ExitCode> {
  await takeRunBack(idOf(run), whoCalls());
  print(await tell(idOf(run)));
  return EXIT.fine;
}

export async function listCommand({ json }: { readonly json?: boolean }): Promise<ExitCode> {
  const refused = [...(await lookAtCluster(pool(), 10)).values()].at(0) ?? null;
  const ids = (await openDispatches(pool())).map(({ runId }) => runId);
  if (json)
    printJson(await Promise.all(ids.map(async (run) => ({ run, ...(await dispatchOfRun(pool(), run)) }))));
  else if (ids.length === 0) print("No run is with the batch system.");
  else for (const id of ids) print(await tell(id));
  if (refused !== null) complain(refused.message);
  return refused === null ? EXIT.fine : EXIT.system;
}
