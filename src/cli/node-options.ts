/** What `plain-tally node` takes, read from texts: what is wrong with one is told before anything is started. */
import { type NodeFaults, nodeFaults } from "@/server/node/faults";
import type { NodeOptions } from "@/server/node/render-node";
import { CallWrong, wholeNumber } from "./command";

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
