/**
 * What leasing asks of the queue first: which runs are open, in which order, and to whom. Remembered
 * by each process for a moment, so that leasing hundreds of frames a second does not ask the same
 * again and again: the open runs, and where in each run the last frame was found. (A scan from the
 * head meets every entry that was leased and not yet purged: 8 clients came to 0.5 of the bare
 * statements, and to 0.9 with this.)
 */
import type { Pool } from "../db/pool";
import { fromJson, rows } from "../db/rows";
import { MAY_BEGIN } from "../store/run-queue";
import { RENDERER_OF_RUN, rendererLimits } from "../store/renderer-limits";
import { readTakers, type Takers } from "./takers";

export interface OpenRun {
  readonly id: number;
  /** Names of those that may take part; null: all. */
  readonly nodes: readonly string[] | null;
  /** What goes before what: of two runs the higher gets every free node. */
  readonly rank: number;
  /** Frames that a node takes at once; null: as measured. */
  readonly batch: number | null;
  /**
   * Only tasks before this position are leased, while the first part of a two-part run goes on; null: all.
   */
  readonly litUntil: number | null;
  /** Leases that have run out. */
  readonly expired: number;
  /** Its renderer, where only so many of its frames may be in work at once; null: as many as nodes take. */
  readonly limited: string | null;
}

/**
 * Active runs whose time has come, that nothing holds, and that wait for no other run: proofs first, somebody
 * waits for them; then by priority, then by place; then the one with the fewest frames in work, so that runs of
 * one place share the nodes.
 */
async function openRuns(pool: Pool): Promise<OpenRun[]> {
  const found = await rows<
    Omit<OpenRun, "nodes" | "rank" | "limited"> & {
      readonly nodes: unknown;
      readonly run_rank: number;
      readonly renderer: string | null;
    }
  >(
    pool,
    `SELECT r.id, r.nodes, r.batch, r.lit_until AS litUntil, ${RENDERER_OF_RUN} AS renderer,
        IF(r.kind = 'proof', 100, r.priority) * 100000 - CAST(r.place AS SIGNED) AS run_rank,
        COALESCE(SUM(t.lease_until < NOW(6)), 0) + 0e0 AS expired
      FROM run r
      LEFT JOIN task t ON t.run_id = r.id AND t.state = 'leased'
      WHERE r.state = 'active'
        AND r.handout IS NULL
        AND r.held IS NULL
        AND (r.start_at IS NULL OR r.start_at <= NOW(3))
        AND ${MAY_BEGIN}
      GROUP BY r.id
      ORDER BY run_rank DESC, COUNT(t.id), r.id`,
  );
  if (found.length === 0) return [];
  const limits = await rendererLimits(pool);
  return found.map(({ run_rank: rank, renderer, ...r }) => ({
    ...r,
    rank,
    limited: renderer !== null && limits.has(renderer) ? renderer : null,
    nodes: r.nodes === null ? null : fromJson<string[]>(r.nodes),
  }));
}

/**
 * How long what a process remembers of the queue is good for. Only frames that take less are leased by it.
 */
const MEMORY_MS = 250;

export interface OpenQueue {
  /** In the order in which they are asked for a frame. */
  readonly runs: readonly OpenRun[];
  /** Nodes that would take frames, with those that are set aside. */
  readonly takers: Takers;
}

interface Memory {
  open: { readonly known: Promise<OpenQueue>; readonly until: number };
  /** By run: where its first frame was found last. */
  readonly heads: Map<number, { readonly position: number; readonly until: number }>;
}
/** A pool is a process's view of one database; tests have several. */
const memories = new WeakMap<Pool, Memory>();

/** Made with the first question. */
function memoryOf(pool: Pool): Memory {
  const known = memories.get(pool);
  if (known !== undefined) return known;
  const fresh: Memory = { open: UNKNOWN, heads: new Map() };
  memories.set(pool, fresh);
  return fresh;
}

const NOBODY: Takers = { willing: [], asides: [] };
/** Out of date from the start. */
const UNKNOWN: Memory["open"] = {
  known: Promise.resolve({ runs: [], takers: NOBODY }),
  until: 0,
};

/** As old as its memory at most; leases themselves are decided on what is committed, never on this. */
export function openQueue(pool: Pool): Promise<OpenQueue> {
  const memory = memoryOf(pool);
  if (performance.now() >= memory.open.until) {
    const known = openRuns(pool).then(async (runs) => ({
      runs,
      // Nobody asks who takes nothing.
      takers: runs.length === 0 ? NOBODY : await readTakers(pool),
    }));
    memory.open = { known, until: performance.now() + MEMORY_MS };
    // A failure is told to who asked, and not remembered.
    known.catch(() => (memory.open = UNKNOWN));
  }
  return memory.open.known;
}

/** What was decided just now must be seen by the next to ask in this process. */
export function forgetOpenQueue(pool: Pool): void {
  memoryOf(pool).open = UNKNOWN;
}

/** Where to look for a run's next frame; the next to ask in this process looks one further on. */
export function reserveHead(pool: Pool, runId: number): number {
  const { heads } = memoryOf(pool);
  const head = heads.get(runId);
  if (head === undefined || performance.now() >= head.until) {
    heads.delete(runId);
    return 0;
  }
  heads.set(runId, { position: head.position + 1, until: head.until });
  return head.position;
}

/** Remembers where a frame was found; nothing found forgets the place. */
export function advanceHead(pool: Pool, runId: number, found: { readonly position: number } | null): void {
  const { heads } = memoryOf(pool);
  const head = heads.get(runId);
  if (found === null) heads.delete(runId);
  else
    heads.set(runId, {
      position: Math.max(head?.position ?? 0, found.position + 1),
      until: head?.until ?? performance.now() + MEMORY_MS,
    });
}
