/**
 * Slurm as it is asked: a program for each question, with its arguments as an array; nothing is given to a shell but one fixed
 * script, which starts what it is handed (array-task.sh). What it answers is text from outside.
 */
import { execFile } from "node:child_process";
import path from "node:path";
import type { ClusterPartition } from "@/contract/cluster";
import { LARGEST_ARRAY } from "@/core/cluster/bounds";
import { type ArrayLine, readListing } from "@/core/cluster/array-listing";
import { home, readConfiguration } from "../configuration";
import { TallyError } from "../errors";
import { programEnvironment } from "../program-environment";

/** A controller that is overrun answers late; one that is away not at all. */
const PATIENCE_MS = 30_000;
/** A listing of a hundred thousand tasks that run. */
const MOST_BYTES = 16_000_000;
/** Characters of a reason that are told. */
const TOLD = 300;

/** What is said on the way out, without the program's name before it. */
function whyOf(stderr: string, error: Error): string {
  const lines = stderr.split("\n").map((line) => line.trim());
  const told = lines.filter((line) => line !== "").at(-1) ?? error.message.split("\n")[0]!;
  return told.replace(/^\w+: (?:error: )?/, "").slice(0, TOLD);
}

/** Runs one of its programs. @throws TallyError `cluster-not-declared`, `cluster-silent`, `cluster-refused` */
function ask(
  program: string,
  args: readonly string[],
  more: Readonly<Record<string, string>> = {},
): Promise<string> {
  const declared = readConfiguration().cluster;
  if (declared === undefined) return Promise.reject(new TallyError("cluster-not-declared"));
  const file = declared.programs === undefined ? program : path.join(declared.programs, program);
  return new Promise((resolve, reject) => {
    execFile(
      file,
      [...args],
      {
        timeout: PATIENCE_MS,
        maxBuffer: MOST_BYTES,
        env: programEnvironment({
          ...(declared.settings === undefined ? {} : { SLURM_CONF: declared.settings }),
          // Lots that wait together are written out in full.
          SLURM_BITSTR_LEN: "0",
          ...more,
        }),
      },
      (error, stdout, stderr) => {
        if (error === null) return resolve(stdout);
        const why = whyOf(stderr, error);
        const isAway =
          error.killed === true || error.code === "ENOENT" || /contact|connect|timed? ?out/i.test(why);
        reject(new TallyError(isAway ? "cluster-silent" : "cluster-refused", { why }).because(error));
      },
    );
  });
}

/** What one array is to be. */
export interface ArrayOrder {
  /** By which it is found again. */
  readonly name: string;
  readonly indices: string;
  /** A frame less its index. */
  readonly shift: number;
  /** Folder of what its tasks write out, one file each. */
  readonly output: string;
  /** Arguments of `plain-tally node`, beside the frame. */
  readonly arguments: readonly string[];
  readonly partition: string | null;
  readonly minutes: number | null;
  readonly memoryMb: number | null;
  readonly nice: number;
  readonly isHeld: boolean;
  /** Machines that shall take none of it. */
  readonly without: readonly string[];
}

/** Seconds before its time limit that a task is told of it, so that it can save what it has. */
const warningSeconds = (minutes: number): number => (minutes >= 5 ? 60 : 20);

/** What a task may know of where it was sent from. */
const HANDED_ON = ["PLAIN_TALLY_CONFIG", "PLAIN_TALLY_PLACE"] as const;

/** @returns the array's number */
export async function submitArray(order: ArrayOrder): Promise<number> {
  const handedOn = HANDED_ON.flatMap((name) => {
    const value = process.env[name];
    return value === undefined ? [] : [[name, value] as const];
  });
  const node = readConfiguration().cluster?.node ?? [path.join(home(), "bin/plain-tally.mjs")];
  const said = await ask(
    "sbatch",
    [
      "--parsable",
      `--job-name=${order.name}`,
      `--array=${order.indices}`,
      `--output=${path.join(order.output, "%A_%a.txt")}`,
      "--open-mode=append",
      "--requeue",
      "--ntasks=1",
      "--cpus-per-task=1",
      "--chdir=/",
      `--export=${["PATH", "HOME", "LANG", ...handedOn.map(([name]) => name)].join(",")}`,
      `--nice=${order.nice}`,
      ...(order.isHeld ? ["--hold"] : []),
      ...(order.partition === null ? [] : [`--partition=${order.partition}`]),
      ...(order.minutes === null
        ? []
        : [`--time=${order.minutes}`, `--signal=B:USR1@${warningSeconds(order.minutes)}`]),
      ...(order.memoryMb === null ? [] : [`--mem=${order.memoryMb}M`]),
      ...(order.without.length === 0 ? [] : [`--exclude=${order.without.join(",")}`]),
      path.join(home(), "bin/array-task.sh"),
      String(order.shift),
      ...node,
      "node",
      "--once",
      ...order.arguments,
    ],
    Object.fromEntries(handedOn),
  );
  const job = Number(/^(\d+)/.exec(said)?.[1]);
  if (!Number.isSafeInteger(job) || job < 1)
    throw new TallyError("cluster-refused", { why: `it answered ${JSON.stringify(said.slice(0, TOLD))}` });
  return job;
}

/** All array jobs of whoever asks, with those that ended a moment ago: one question, however many tasks there are. */
export const listArrays = async (): Promise<ArrayLine[]> =>
  readListing(await ask("squeue", ["--me", "--noheader", "--states=all", "--format=%i|%j|%T|%r|%N|%y"]));

/** Tasks that are in work are asked to end, and save what they have; where `waitingOnly`, they go on. */
export async function cancelArray(job: number, waitingOnly: boolean): Promise<void> {
  await ask("scancel", [...(waitingOnly ? ["--state=PENDING"] : []), String(job)]);
}

/** Its waiting tasks begin no more, or again. */
export async function holdArray(job: number, isHeld: boolean): Promise<void> {
  await ask("scontrol", [isHeld ? "hold" : "release", String(job)]);
}

/** How far its waiting tasks stand back. */
export async function setNice(job: number, nice: number): Promise<void> {
  await ask("scontrol", ["update", `JobId=${job}`, `Nice=${nice}`]);
}

/** @param task `array_index` */
export async function beginNow(task: string): Promise<void> {
  await ask("scontrol", ["update", `JobId=${task}`, "StartTime=now"]);
}

/** Machines that can be asked for together. */
export async function listPartitions(): Promise<ClusterPartition[]> {
  const said = await ask("sinfo", ["--noheader", "--format=%P|%D|%a"]);
  return said.split("\n").flatMap((line) => {
    const [name = "", machines = "", state = ""] = line.trim().split("|");
    return name === "" || state !== "up"
      ? []
      : [{ name: name.replace(/\*$/, ""), isUsual: name.endsWith("*"), machines: Number(machines) || 0 }];
  });
}

/** The largest index that an array may have. */
export async function largestIndex(): Promise<number> {
  const said = await ask("scontrol", ["show", "config"]);
  const size = Number(/^MaxArraySize\s*=\s*(\d+)/m.exec(said)?.[1]);
  // An array of one or none is a batch system that takes no arrays.
  if (!Number.isSafeInteger(size) || size < 2)
    throw new TallyError("cluster-refused", { why: "it takes no arrays (MaxArraySize)" });
  return Math.min(size - 1, LARGEST_ARRAY);
}
