/**
 * Nodes as places in which frames are rendered at once, and how fast each is when all of them work.
 * Nodes of one machine share its processors: three on two of them give no more than two.
 */

/** A node, as far as a plan of the work must know it. */
export interface PlannedNode {
  readonly name: string;
  /** Frames that it renders at once. */
  readonly cores: number;
  /** Name of its machine. */
  readonly host: string;
  /** That the machine has; null: an older node that did not say. */
  readonly processors: number | null;
}

export interface NodeSlots {
  /** Speed of each frame that is rendered at once, 1 for a usual node with processors to itself. */
  readonly speeds: readonly number[];
  /** Machines whose processors do not suffice for the frames that their nodes render at once, by name. */
  readonly crowded: readonly {
    readonly host: string;
    readonly slots: number;
    readonly processors: number;
  }[];
}

/**
 * A slot for each frame that is rendered at once; with no node at all one usual slot, since figures of one
 * node are better than none.
 * @param speeds of nodes by name, with processors to themselves
 * @param threads processors that one frame keeps busy
 */
export function nodeSlots(
  nodes: readonly PlannedNode[],
  speeds: ReadonlyMap<string, number>,
  threads: number,
): NodeSlots {
  if (nodes.length === 0) return { speeds: [1], crowded: [] };
  const hosts = new Map<string, { slots: number; processors: number | null }>();
  for (const { host, cores, processors } of nodes) {
    const known = hosts.get(host);
    hosts.set(host, {
      slots: (known?.slots ?? 0) + cores,
      processors: processors ?? known?.processors ?? null,
    });
  }
  // A frame that needs more processors than there are was timed with what there is.
  const roomOf = (host: string): number => {
    const { slots, processors } = hosts.get(host)!;
    return processors === null ? 1 : Math.min(1, processors / (slots * Math.min(threads, processors)));
  };
  return {
    speeds: nodes.flatMap(({ name, cores, host }) =>
      Array<number>(cores).fill((speeds.get(name) ?? 1) * roomOf(host)),
    ),
    crowded: [...hosts].flatMap(([host, { slots, processors }]) =>
      processors === null || roomOf(host) === 1 ? [] : [{ host, slots, processors }],
    ),
  };
}
