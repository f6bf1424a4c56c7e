/**
 * How often nodes ask the database, which they share: on a desk a stop is heard at once, on a large farm a few seconds later, so
 * that what a thousand nodes ask for by the clock stays what some dozens ask.
 */

const SHORTEST_MS = 700;
/** A quarter of a lease of 20 s, and half of what makes a node count as away. */
const LONGEST_MS = 5_000;
/** Of each node that is awake. */
const EACH_MS = 5;

/** Milliseconds between two heartbeats of a node among so many. */
export const beatMs = (nodes: number): number => Math.min(LONGEST_MS, Math.max(SHORTEST_MS, nodes * EACH_MS));
