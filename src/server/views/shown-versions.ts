/**
 * Versions that some page shows: what becomes of their frames is worked out and told with the event.
 * Of all others only that something has changed is told. A page that is open for longer than is
 * remembered hears that too, asks once for the whole, and is remembered again.
 */
const REMEMBERED_MS = 10 * 60_000;

const shared = globalThis as { plainTallyShown?: Map<number, number> };

/** Next may load a module twice; what a process shows is one map. By version, when it was last read. */
const shown = (): Map<number, number> => (shared.plainTallyShown ??= new Map());

/** A page that shows this version has just asked for it, or for news of it. */
export function markShown(versionId: number): void {
  shown().set(versionId, performance.now());
}

/** Whether anybody looks. A page that went away is forgotten after a while. */
export function isShown(versionId: number): boolean {
  const at = shown().get(versionId);
  if (at === undefined) return false;
  if (performance.now() - at < REMEMBERED_MS) return true;
  shown().delete(versionId);
  return false;
}
