/**
 * In which order runs get nodes: by priority, then by place, then as they were started. A run that nobody moved
 * stands at the last place, and those of one place share the nodes; what was put into an order goes one after
 * another. Pure.
 */

/** The place of a run that nobody moved. */
export const UNMOVED = 65_535;

export interface QueuedRun {
  readonly id: number;
  /** The higher goes before. */
  readonly priority: number;
  /** The lower goes before. */
  readonly place: number;
}

/** As the queue asks them for a frame, but for the frames that are in work: those decide among equals. */
export const inQueueOrder = <T extends QueuedRun>(runs: readonly T[]): readonly T[] =>
  [...runs].sort((a, b) => b.priority - a.priority || a.place - b.place || a.id - b.id);

/**
 * Puts runs before another one, in the order in which they stand. They take its priority, since a place counts
 * among runs of one priority alone; at the end, that of the last one. What stands before them in that priority
 * gets a place of its own too, or it would share with them what is free.
 * @param queue runs that go on, in any order
 * @param moved those to move; ids that are not in the queue are passed over
 * @param before the run that they shall stand before; null, or one of the moved: the end
 * @returns the runs that change, with what they become
 */
export function movedBefore<T extends QueuedRun>(
  queue: readonly T[],
  moved: readonly number[],
  before: number | null,
): readonly T[] {
  const all = inQueueOrder(queue);
  const own = all.filter(({ id }) => moved.includes(id));
  const rest = all.filter(({ id }) => !moved.includes(id));
  const at = rest.findIndex(({ id }) => id === before);
  const index = at === -1 ? rest.length : at;
  const priority = (rest[index] ?? rest.at(-1))?.priority;
  if (own.length === 0 || priority === undefined) return [];
  const next = [...rest.slice(0, index), ...own.map((run) => ({ ...run, priority })), ...rest.slice(index)];
  const band = next.filter((run) => run.priority === priority);
  // Those behind that nobody ever moved go on sharing.
  const placed = band.findLastIndex(({ id, place }) => moved.includes(id) || place !== UNMOVED) + 1;
  const known = new Map(queue.map((run) => [run.id, run]));
  return band
    .map((run, i) => ({ ...run, place: i < placed ? i + 1 : UNMOVED }))
    .filter((run) => {
      const old = known.get(run.id)!;
      return run.place !== old.place || run.priority !== old.priority;
    });
}

/**
 * Whether a run may wait for another one: of two that wait for each other, however many stand between, none
 * would ever begin.
 * @param waitsFor of each run that waits the one that it waits for
 */
export function mayWaitFor(id: number, other: number, waitsFor: ReadonlyMap<number, number>): boolean {
  for (let next: number | undefined = other; next !== undefined; next = waitsFor.get(next))
    if (next === id) return false;
  return true;
}
