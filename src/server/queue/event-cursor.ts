/**
 * Reading events without losing any. An id is given when a row is inserted, but the row is seen when
 * its transaction commits: 12 can show before 11. The cursor stops before a gap until the gap fills,
 * or until it is so old that its transaction must have been rolled back.
 */

/** No transaction of ours lives longer (pool.ts cuts idle ones at ten seconds). */
export const GAP_PATIENCE_MS = 10_000;

export interface EventCursor {
  /** All ids up to here are read or given up. */
  readonly through: number;
  /** When the gap that stops the cursor was first seen, or null. */
  readonly waitingSince: number | null;
}

/**
 * Moves the cursor over the ids seen after `through` (ascending). Ids beyond an open gap are seen again next
 * time.
 */
export function advance(cursor: EventCursor, ids: readonly number[], nowMs: number): EventCursor {
  let { through } = cursor;
  for (const id of ids) {
    if (id === through + 1) {
      through = id;
      continue;
    }
    // Patience belongs to the first gap only; a new gap starts its own wait.
    const since = through === cursor.through && cursor.waitingSince !== null ? cursor.waitingSince : nowMs;
    if (nowMs - since < GAP_PATIENCE_MS) return { through, waitingSince: since };
    through = id;
  }
  return { through, waitingSince: null };
}
