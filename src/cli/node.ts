/**
 * `plain-tally node`: a render node until Ctrl-C.
 * Options are texts until they are read here; what is wrong with one is told before anything is started.
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
import { nodeFaults } from "@/server/node/faults";
import { RenderNode } from "@/server/node/render-node";
import { CallWrong, EXIT, type ExitCode, wholeNumber } from "./command";

/** Connections of a node: each frame in work holds one for a moment, and a few are for the beat. */
const POOL_SIZE = 12;

export interface NodeCommandOptions {
  /** What its house has invited it as, where it is left out. */
  readonly name?: string;
  /** Frames that it renders at once when it is here for the first time. */
  readonly cores?: string;
  /** Seconds. */
  readonly lease?: string;
  /** Seconds after which a renderer that says nothing is ended. */
  readonly silence?: string;
  /** Seconds that every frame may take, however quick its neighbours were. */
  readonly limitFrom?: string;
  readonly unproven?: boolean;
  /** Files that it shall not see: a fault by choice, as those below. */
  readonly hide: readonly string[];
  /** Ends in the middle of its n-th frame. */
  readonly dieInFrame?: string;
  /** Times as slow. */
  readonly slow?: string;
}

/**
 * Works until told to end: at Ctrl-C frames in work save what they have and are given back.
 */
export async function nodeCommand(options: NodeCommandOptions): Promise<ExitCode> {
  const name = options.name ?? joinedHouse()?.name;
  if (name === undefined) throw new CallWrong("--name is needed: which node is this?");
  if (!isMachineName(name)) throw new CallWrong("--name must be letters, digits, - and _, such as quay-1");
  const slow = options.slow === undefined ? undefined : Number(options.slow);
  if (slow !== undefined && !(slow >= 1)) throw new CallWrong("--slow must be a number from 1 up");
  // Before anything is called: what a node that was killed here has left behind.
  await endLeftCalls();
  const pool = makePool(settings().databaseUrl, POOL_SIZE);
  const node = new RenderNode(pool, () => new EngineSet(path.join(home(), "dist/engine-child.mjs")), {
    name,
    version: installation().version,
    ...(options.lease === undefined ? {} : { leaseSeconds: wholeNumber(options.lease, "--lease", 1) }),
    ...(options.silence === undefined
      ? {}
      : { silenceSeconds: wholeNumber(options.silence, "--silence", 1) }),
    ...(options.limitFrom === undefined
      ? {}
      : { leastLimitSeconds: wholeNumber(options.limitFrom, "--limit-from", 1) }),
    ...(options.cores === undefined
      ? {}
      : { firstCores: Math.min(BOUNDS.cores, wholeNumber(options.cores, "--cores", 1)) }),
    isUnproven: options.unproven === true,
    faults: nodeFaults({
      hide: options.hide,
      ...(options.dieInFrame === undefined
        ? {}
        : { dieInFrame: wholeNumber(options.dieInFrame, "--die-in-frame", 1) }),
      ...(slow === undefined ? {} : { slow }),
    }),
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
