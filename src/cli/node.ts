/**
 * `plain-tally node`: a render node until Ctrl-C.
 */
import { endLeftCalls } from "@/server/engines/call-trace";
import { isMachineName } from "@/core/naming/name";
import path from "node:path";
import { BOUNDS } from "@/contract/bounds";
import { makePool } from "@/server/db/pool";
import { home, joinedHouse, settings } from "@/server/configuration";
import { installation } from "@/server/installation";
import { EngineSet } from "@/server/engines/engine-set";
import { keepHouseByTheClock } from "@/server/housekeeping/keep-house";
import { writeRecordsByTheClock } from "@/server/record/recorder";
import { RenderNode } from "@/server/node/render-node";
import { CallWrong, EXIT, type ExitCode, wholeNumber } from "./command";
import { type NodeCommandOptions, nodeTimes, readFaults } from "./node-options";

/** Between two looks for what is to be recorded: the server, where there is one, looks more often. */
const RECORDS_MS = 3_000;
/** Connections of a node: each frame in work holds one for a moment, and a few are for the beat. */
const POOL_SIZE = 12;
/** That it keeps while nothing happens: a farm has a thousand nodes. */
const IDLE_CONNECTIONS = 2;

/**
 * Works until told to end: at Ctrl-C frames in work save what they have and are given back.
 */
export async function nodeCommand(options: NodeCommandOptions): Promise<ExitCode> {
  if (options.once === true) return (await import("./node-once")).nodeOnceCommand(options);
  if (options.run !== undefined || options.frame !== undefined || options.light === true)
    throw new CallWrong("--run, --frame and --light belong to --once");
  const name = options.name ?? joinedHouse()?.name;
  if (name === undefined) throw new CallWrong("--name is needed: which node is this?");
  if (!isMachineName(name)) throw new CallWrong("--name must be letters, digits, - and _, such as quay-1");
  const faults = readFaults(options);
  // Before anything is called: what a node that was killed here has left behind.
  await endLeftCalls();
  const pool = makePool(settings().databaseUrl, POOL_SIZE, IDLE_CONNECTIONS);
  const node = new RenderNode(pool, () => new EngineSet(path.join(home(), "dist/engine-child.mjs")), {
    name,
    version: installation().version,
    ...nodeTimes(options),
    ...(options.cores === undefined
      ? {}
      : { firstCores: Math.min(BOUNDS.cores, wholeNumber(options.cores, "--cores", 1)) }),
    isUnproven: options.unproven === true,
    faults,
    log: (level, text) =>
      process.stdout.write(
        `${new Date().toISOString().slice(11, 19)} ${name} ${level === "info" ? "" : `${level}: `}${text}\n`,
      ),
  });
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => node.stop());
  const endHousekeeping = keepHouseByTheClock(
    () => pool,
    (error) => process.stdout.write(`Housekeeping: ${String(error)}\n`),
  );
  const endRecording = writeRecordsByTheClock(
    () => pool,
    (error) => process.stdout.write(`Records: ${String(error)}\n`),
    RECORDS_MS,
  );
  try {
    await node.run();
  } finally {
    endHousekeeping();
    await endRecording();
    await pool.end();
  }
  return EXIT.fine;
}
