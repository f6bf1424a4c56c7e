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
import { type NodeFaults, nodeFaults } from "@/server/node/faults";
import { type NodeOptions, RenderNode } from "@/server/node/render-node";
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
  /** One frame, and no more: of this run. */
  readonly once?: boolean;
  readonly run?: string;
  readonly frame?: string;
  /** Of which camera and version: number of its beauty sequence. */
  readonly sequence?: string;
  /** Its gathered light, and not the frame itself. */
  readonly light?: boolean;
}

/** Seconds of leases, of silence and of frames, where they are said. */
export const nodeTimes = ({
  lease,
  silence,
  limitFrom,
}: NodeCommandOptions): Pick<NodeOptions, "leaseSeconds" | "silenceSeconds" | "leastLimitSeconds"> => ({
  ...(lease === undefined ? {} : { leaseSeconds: wholeNumber(lease, "--lease", 1) }),
  ...(silence === undefined ? {} : { silenceSeconds: wholeNumber(silence, "--silence", 1) }),
  ...(limitFrom === undefined ? {} : { leastLimitSeconds: wholeNumber(limitFrom, "--limit-from", 1) }),
});

/** What it is to do wrong, by choice. */
export function readFaults(options: NodeCommandOptions): NodeFaults {
  const slow = options.slow === undefined ? undefined : Number(options.slow);
  if (slow !== undefined && !(slow >= 1)) throw new CallWrong("--slow must be a number from 1 up");
  return nodeFaults({
    hide: options.hide,
    ...(options.dieInFrame === undefined
      ? {}
      : { dieInFrame: wholeNumber(options.dieInFrame, "--die-in-frame", 1) }),
    ...(slow === undefined ? {} : { slow }),
  });
}

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
  const pool = makePool(settings().databaseUrl, POOL_SIZE);
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
