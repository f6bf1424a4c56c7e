/** `plain-tally node --once`: one named frame of a run, and no more; what a batch system starts for each task of an array. */
import os from "node:os";
import path from "node:path";
import { BOUNDS } from "@/contract/bounds";
import { endInWords } from "@/core/cluster/task-end";
import { home, settings } from "@/server/configuration";
import { makePool, type Pool } from "@/server/db/pool";
import { endLeftCalls } from "@/server/engines/call-trace";
import { EngineSet } from "@/server/engines/engine-set";
import { TallyError } from "@/server/errors";
import { installation } from "@/server/installation";
import { ArrayTask, type ArrayTaskEnd } from "@/server/node/array-task";
import { tailOfFile } from "@/server/files/tail-of-file";
import type { NamedFrame } from "@/server/queue/claim";
import { runById } from "@/server/store/runs";
import { tasksOfRun } from "@/server/store/tasks";
import { EXIT, type ExitCode, wholeNumber } from "./command";
import { type NodeCommandOptions, nodeTimes, readFaults } from "./node-options";

/** What this process writes to, as a file where it is one. */
const OWN_OUTPUT = "/proc/self/fd/1";
/** Connections of one frame. */
const POOL_SIZE = 4;

const SAID: Readonly<Record<ArrayTaskEnd, string>> = {
  made: "made",
  failed: "failed",
  "given-back": "given back",
  "made-before": "is made already",
  "in-work": "is in work elsewhere",
  "not-wanted": "is not wanted any more",
  "not-ready": "cannot be made here: this machine does not see what it needs",
  paused: "is not made now: this machine, or all of them, are paused",
  "set-aside": "is not made here: this machine is set aside",
};

/** As Slurm tells its tasks where they are; by hand it is this machine. */
function whereAt(): { readonly machine: string; readonly arrayTask: string | null } {
  const { SLURMD_NODENAME, SLURM_ARRAY_JOB_ID, SLURM_ARRAY_TASK_ID } = process.env;
  return {
    machine: (SLURMD_NODENAME ?? os.hostname()).slice(0, BOUNDS.nodeName),
    arrayTask:
      SLURM_ARRAY_JOB_ID === undefined || SLURM_ARRAY_TASK_ID === undefined
        ? null
        : `${SLURM_ARRAY_JOB_ID}_${SLURM_ARRAY_TASK_ID}`,
  };
}

/** All tasks of a machine work under one name; it says that they come and go. */
const nodeNameOf = (machine: string): string =>
  `${machine.replace(/[^A-Za-z0-9_-]/g, "-").slice(0, BOUNDS.nodeName - "-array".length)}-array`;

/** @throws TallyError where the frame is none of the run's, or of several of its cameras */
async function namedFrame(pool: Pool, options: NodeCommandOptions): Promise<NamedFrame> {
  if (options.run === undefined || options.frame === undefined) throw new TallyError("once-needs-frame");
  const runId = wholeNumber(options.run, "--run", 1);
  const frame = wholeNumber(options.frame, "--frame", -BOUNDS.frame);
  const kind = options.light === true ? "light" : "frame";
  if (options.sequence !== undefined)
    return { runId, frame, kind, leadId: wholeNumber(options.sequence, "--sequence", 1) };
  if ((await runById(pool, runId)) === null) throw new TallyError("run-unknown");
  const found = (await tasksOfRun(pool, runId)).filter((t) => t.kind === kind && t.frame === frame);
  if (found.length !== 1) throw new TallyError("once-not-in-run", { run: runId, frame, times: found.length });
  return { runId, frame, kind, leadId: found[0]!.leadId };
}

/**
 * What the batch system tells by a signal. It writes why it ends a task into the task's output, which is our own, before it says so;
 * USR1 is what we have asked it to send before the time is up.
 */
function listen(task: ArrayTask, isOfArray: boolean): void {
  process.once("SIGUSR1", () => task.end("time"));
  const end = async (): Promise<void> =>
    task.end(isOfArray ? endInWords(await tailOfFile(OWN_OUTPUT)) : null);
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => void end());
}

export async function nodeOnceCommand(options: NodeCommandOptions): Promise<ExitCode> {
  await endLeftCalls();
  const { machine, arrayTask } = whereAt();
  const name = options.name ?? nodeNameOf(machine);
  const log = (text: string): void =>
    void process.stdout.write(`${new Date().toISOString().slice(11, 19)} ${name} ${text}\n`);
  const pool = makePool(settings().databaseUrl, POOL_SIZE);
  try {
    const frame = await namedFrame(pool, options);
    const task = new ArrayTask(pool, new EngineSet(path.join(home(), "dist/engine-child.mjs")), {
      ...{ name, machine, arrayTask },
      version: installation().version,
      ...nodeTimes(options),
      faults: readFaults(options),
      log: (level, text) => log(level === "info" ? text : `${level}: ${text}`),
    });
    listen(task, arrayTask !== null);
    const end = await task.run(frame);
    log(`frame ${frame.frame} of run ${frame.runId} ${SAID[end]}`);
    return end === "failed" || end === "not-ready" ? EXIT.frames : EXIT.fine;
  } finally {
    await pool.end();
  }
}
