/**
 * One poller a server process feeds all open pages. It runs only while somebody listens. Progress of
 * rendering frames is no event: it is read beside and sent when it changes.
 */
import { addAll } from "@/core/many";
import { pool } from "../db/pool";
import { advance, type EventCursor } from "../queue/event-cursor";
import { closeEndedRuns } from "../queue/run-end";
import { openAsides } from "../store/asides";
import { eventsAfter, lastEventId } from "../store/events";
import { Poller } from "./poller";
import { sortEvents } from "./sort-events";
import { isShown } from "../views/shown-versions";
import { forgetSources, versionsWithOtherSources } from "../views/shown-sources";
import { viewChange } from "../views/version-change";
import { listNodes, settingsOfNodes } from "../store/nodes";
import { asideFrom, nodeState, viewRendering } from "../views/nodes";
import { sayFault } from "@/contract/faults";
import { sequencesOfVersion } from "../store/shots";
import { listRendering } from "../store/tasks";
import { secondsSinceLastFrame } from "../store/attempts";
import type { NodeView } from "@/contract/node-view";
import type { LiveMessage } from "@/contract/live";
import { isDatabaseAway } from "../db/away";
import { projectsOutOfSight } from "../folder/project-sight";
import { restAfter } from "../rest-after";

/** What waits longest on a page for news. */
const POLL_MS = 500;
/** Scenes on disk are looked at so often, or as `restAfter` says: 500 shots have as many. */
const SOURCES_MS = 2_000;
/** More than these are read in the next poll. */
const EVENTS_A_POLL = 1_000;
/** Runs that nobody closed are closed by whoever looks. */
const CLOSE_EVERY_POLLS = 4;

type Listener = (message: LiveMessage) => void;

class Live {
  readonly #listeners = new Set<Listener>();
  #cursor: EventCursor | null = null;
  readonly #poller = new Poller(() => this.#poll(), POLL_MS);
  #lastLive = "";
  /** On the process's own clock. */
  #sourcesDue = 0;
  #isAway = false;
  #polls = 0;
  /** Events beyond an open gap that listeners were told of already. */
  #told = new Set<number>();

  /** The first listener starts the poller; each hears how things stand with the next poll. */
  subscribe(listener: Listener): () => void {
    this.#listeners.add(listener);
    this.#lastLive = "";
    this.#poller.start();
    return () => {
      this.#listeners.delete(listener);
      if (this.#listeners.size > 0) return;
      this.#poller.stop();
      // Whoever comes next reloads what it shows, so nothing between has to be told.
      this.#cursor = null;
      forgetSources();
    };
  }

  #tell(message: LiveMessage): void {
    for (const listener of this.#listeners) listener(message);
  }

  async #poll(): Promise<void> {
    try {
      await this.#readEvents();
      await this.#readSources();
      await this.#readLive();
      if (this.#isAway) this.#tell({ type: "changed", sequences: null });
      this.#isAway = false;
      if (this.#polls++ % CLOSE_EVERY_POLLS === 0) await closeEndedRuns(pool());
    } catch {
      if (!this.#isAway)
        this.#tell({
          type: "trouble",
          message: sayFault("database-away"),
        });
      this.#isAway = true;
      this.#lastLive = "";
    }
    if (this.#listeners.size === 0) this.#cursor = null;
  }

  /** What has become of frames since the last poll. */
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
    const { sequences, frames } = sortEvents(fresh, isShown);
    const unread: number[] = [];
    for (const { versionId, sequenceIds, set, runIds } of frames) {
      const change = await viewChange(versionId, set, runIds).catch((error: unknown) => {
        if (isDatabaseAway(error)) throw error;
        // Pages that ask for the whole are told what is the matter.
        addAll(unread, sequenceIds);
        return null;
      });
      if (change !== null) this.#tell({ type: "frames", change });
    }
    if (sequences === null) this.#tell({ type: "changed", sequences });
    else if (sequences.length + unread.length > 0 || frames.length === 0)
      this.#tell({ type: "changed", sequences: [...sequences, ...unread] });
  }

  /** Scenes that have changed on disk put frames out of date, and nobody writes an event for it. */
  async #readSources(): Promise<void> {
    const began = performance.now();
    if (began < this.#sourcesDue) return;
    const sequences: number[] = [];
    for (const versionId of await versionsWithOtherSources())
      addAll(
        sequences,
        (await sequencesOfVersion(pool(), versionId)).map((s) => s.id),
      );
    const took = performance.now() - began;
    this.#sourcesDue = performance.now() + Math.max(SOURCES_MS, restAfter(took));
    if (sequences.length > 0) this.#tell({ type: "changed", sequences });
  }

  /** Progress and nodes, told when they differ from what was told last. */
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
        host: n.host,
        processors: n.processors,
        cores: orders.get(n.id)?.cores ?? 1,
        groups: orders.get(n.id)?.groups ?? [],
        state: nodeState(
          n,
          orders.get(n.id),
          rendering.some((r) => r.node === n.name),
          asides.some((a) => a.nodeId === n.id && a.runId === null),
        ),
        asideFrom: asideFrom(n, asides),
      })),
      lastFrameSeconds: last === null ? null : Math.round(last),
      outOfSight: projectsOutOfSight(),
    };
    const text = JSON.stringify(message);
    if (text === this.#lastLive) return;
    this.#lastLive = text;
    this.#tell(message);
  }
}

const shared = globalThis as { plainTallyLive?: Live };
/** The process's poller, made when the first page listens. */
export const live = (): Live => (shared.plainTallyLive ??= new Live());
