/**
 * Handovers that a node makes between its frames. Movies are left to others while this machine lacks ffmpeg and
 * theirs may have it: for so long, and no longer, as a frame may keep them busy.
 */
import type { LogLevel } from "@/contract/log";
import type { Pool } from "../db/pool";
import { attemptHandover } from "../handover/attempt";
import { isFfmpegThere } from "../handover/ffmpeg";
import { claimHandover } from "../queue/handover-lease";
import { AWAY_SECONDS } from "../queue/takers";
import { mayOthersEncode, saveEncodes } from "../store/nodes";
import type { OpenHandover } from "../store/handovers";

/** Between two looks for one. */
const LOOK_MS = 1_000;
/** Then it is taken, and says what is to be installed: nobody waits for a node that never comes. */
const LEFT_MS = 600_000;

/** The node as its handovers see it. */
export interface HandingNode {
  readonly pool: Pool;
  readonly leaseSeconds: number;
  readonly log: (level: LogLevel, text: string) => void;
  readonly whileAway: (work: () => Promise<void>) => Promise<void>;
  /** Before one is made: frames that were queued are given back. */
  readonly release: () => Promise<void>;
  /** Hears how the one in work is asked to end; null: none is in work. */
  readonly onBusy: (askToStop: (() => void) | null) => void;
  /** It has to end, or to rest, at once. */
  readonly mustLetGo: () => boolean;
}

export class NodeHandovers {
  readonly #node: HandingNode;
  #lookedAt = -Infinity;
  /** When each was first left to others. */
  readonly #leftSince = new Map<number, number>();

  constructor(node: HandingNode) {
    this.#node = node;
  }

  /** Makes all that is to be handed over. @param nodeId as it is registered */
  async makeAll(nodeId: number): Promise<void> {
    if (performance.now() - this.#lookedAt < LOOK_MS) return;
    const { pool, leaseSeconds, log, whileAway, release, onBusy, mustLetGo } = this.#node;
    for (;;) {
      const lease = await claimHandover(pool, nodeId, leaseSeconds, (open) => this.#isLeft(nodeId, open));
      this.#lookedAt = performance.now();
      if (lease === null) return;
      await release();
      const stop = new AbortController();
      onBusy(() => stop.abort());
      if (mustLetGo()) stop.abort();
      try {
        const end = await attemptHandover({ pool, leaseSeconds, stop: stop.signal, whileAway }, lease);
        log(end === "failed" ? "warning" : "info", `handover ${lease.id}: ${end}`);
        if (end === "given-back") return;
      } finally {
        onBusy(null);
      }
    }
  }

  /** Asked each time that one waits: it may have been installed meanwhile. */
  async #isLeft(nodeId: number, { id, as }: OpenHandover): Promise<boolean> {
    if (as !== "movie") return false;
    const { pool, log } = this.#node;
    const isThere = await isFfmpegThere();
    await saveEncodes(pool, nodeId, isThere);
    if (isThere) return false;
    const since = this.#leftSince.get(id) ?? performance.now();
    if (performance.now() - since >= LEFT_MS || !(await mayOthersEncode(pool, nodeId, AWAY_SECONDS)))
      return false;
    if (!this.#leftSince.has(id)) log("info", `handover ${id} is left to others: ffmpeg is not here`);
    this.#leftSince.set(id, since);
    return true;
  }
}
