/**
 * One poller a server process feeds all open pages. It runs only while somebody listens. Progress of
 * rendering frames is no event: it is read beside and sent when it changes.
 */
import type { LiveMessage, NodeView, RenderingView } from "@/contract/views";
import { likelyAttemptSeconds, type MadeFrame } from "@/core/estimate/expected";
import { pool } from "../db/pool";
import { AWAY_SECONDS } from "../queue/takers";
import { advance, type EventCursor } from "../queue/event-cursor";
import { versionName } from "@/core/plan/plan";
import { closeEndedRuns } from "../queue/run-end";
import { openAsides } from "../store/asides";
import { eventsAfter, lastEventId, pruneEvents } from "../store/events";
import { listNodes, type NodeOrders, type NodeRow, settingsOfNodes } from "../store/nodes";
import { listRendering, madeFrames, type RenderingRow, secondsSinceLastFrame } from "../store/runs";

const POLL_MS = 500;
const EVENTS_A_POLL = 1_000;
const PRUNE_EVERY_POLLS = 1_200;

/** @param orders what is decided of it
 * @param isAside from every run
 */
export function nodeState(
  node: NodeRow,
  orders: NodeOrders | undefined,
  isRendering: boolean,
  isAside: boolean,
): NodeView["state"] {
  if (node.stopped) return "stopped";
  if (node.secondsSinceSeen > AWAY_SECONDS) return "away";
  if (isRendering) return "at-work";
  if (isAside) return "set-aside";
  return orders !== undefined && (orders.pause !== "no" || orders.housePause !== "no") ? "paused" : "idle";
}

/** Frames in work, with what the frames beside them took. */
async function viewRendering(rendering: readonly RenderingRow[]): Promise<RenderingView[]> {
  const made = new Map<string, Promise<readonly MadeFrame[]>>();
  const madeBeside = ({ runId, sequenceId }: RenderingRow): Promise<readonly MadeFrame[]> => {
    const key = `${runId}/${sequenceId}`;
    const known = made.get(key) ?? madeFrames(pool(), runId, sequenceId);
    made.set(key, known);
    return known;
  };
  return Promise.all(
    rendering.map(async (r) => {
      const expected = r.isLighting === 1 ? null : likelyAttemptSeconds(r.frame, await madeBeside(r));
      return {
        runId: r.runId,
        shot: r.shot,
        version: versionName(r),
        isProof: r.isProof === 1,
        isLighting: r.isLighting === 1,
        sequenceId: r.sequenceId,
        frame: r.frame,
        node: r.node,
        progress: r.progress ?? 0,
        seconds: Math.round(r.seconds),
        expectedSeconds: expected === null ? null : Math.round(expected),
      };
    }),
  );
}

type Listener = (message: LiveMessage) => void;

class Live {
  readonly #listeners = new Set<Listener>();
  #cursor: EventCursor | null = null;
  #timer: NodeJS.Timeout | null = null;
  #lastLive = "";
  #isAway = false;
  #polls = 0;
  /** Events beyond an open gap that listeners were told of already. */
  #told = new Set<number>();

  subscribe(listener: Listener): () => void {
    this.#listeners.add(listener);
    this.#lastLive = "";
    this.#timer ??= setTimeout(() => void this.#poll(), 0);
    return () => {
      this.#listeners.delete(listener);
      if (this.#listeners.size > 0 || this.#timer === null) return;
      clearTimeout(this.#timer);
      this.#timer = null;
      // Whoever comes next reloads what it shows, so nothing between has to be told.
      this.#cursor = null;
    };
  }

  #tell(message: LiveMessage): void {
    for (const listener of this.#listeners) listener(message);
  }

  async #poll(): Promise<void> {
    try {
      await this.#readEvents();
      await this.#readLive();
      if (this.#isAway) this.#tell({ type: "changed", sequences: null });
      this.#isAway = false;
      if (this.#polls++ % 4 === 0) await closeEndedRuns(pool());
      if (this.#polls % PRUNE_EVERY_POLLS === 0) await pruneEvents(pool());
    } catch {
      if (!this.#isAway)
        this.#tell({
          type: "trouble",
          message:
            "The database does not answer. Nothing is lost; this page goes on by itself when it is back.",
        });
      this.#isAway = true;
      this.#lastLive = "";
    }
    if (this.#listeners.size > 0) this.#timer = setTimeout(() => void this.#poll(), POLL_MS);
    else this.#timer = null;
  }

  async #readEvents(): Promise<void> {
    this.#cursor ??= { through: await lastEventId(pool()), waitingSince: null };
    const events = await eventsAfter(pool(), this.#cursor.through, EVENTS_A_POLL);
    // Ids beyond a gap are told at once and remembered, so that the late one is told when it shows.
    const fresh = events.filter((e) => !this.#told.has(e.id));
    this.#cursor = advance(
      this.#cursor,
      events.map((e) => e.id),
      Date.now(),
    );
    this.#told = new Set(events.map((e) => e.id).filter((id) => id > this.#cursor!.through));
    if (fresh.length === 0) return;
    const sequences = fresh.some((e) => e.kind === "plan")
      ? null
      : [...new Set(fresh.flatMap((e) => (e.sequenceId === null ? [] : [e.sequenceId])))];
    this.#tell({ type: "changed", sequences });
  }

  async #readLive(): Promise<void> {
    const [rendering, nodes, orders, asides, last] = await Promise.all([
      listRendering(pool()),
      listNodes(pool()),
      settingsOfNodes(pool()),
      openAsides(pool()),
      secondsSinceLastFrame(pool()),
    ]);
    const message: LiveMessage = {
      type: "live",
      rendering: await viewRendering(rendering),
      nodes: nodes.map((n): NodeView => ({
        name: n.name,
        state: nodeState(
          n,
          orders.get(n.id),
          rendering.some((r) => r.node === n.name),
          asides.some((a) => a.nodeId === n.id && a.runId === null),
        ),
      })),
      lastFrameSeconds: last === null ? null : Math.round(last),
    };
    const text = JSON.stringify(message);
    if (text === this.#lastLive) return;
    this.#lastLive = text;
    this.#tell(message);
  }
}

const shared = globalThis as unknown as { plainTallyLive?: Live };
export const live = (): Live => (shared.plainTallyLive ??= new Live());
