/**
 * Who is to blame for failed frames: the scene, a node, or a frame. One judgement over the attempts
 * of a run; the first that holds of each row wins.
 *
 *     scene   the first frame of every node ended in one and the same error, and no node made any
 *     node    it failed on three frames that others made
 *     frame   it failed on two nodes, or twice where no other node may try
 *
 * Failures that lie in a node's files (it cannot read or write) are not given to this judgement.
 */

/** A frame that fails so often where only one node may try, or on so many nodes, is set aside. */
const FRAME_FAILURES = 2;
/** Frames that others made and a node did not, until the node is set aside. */
const NODE_FAILURES = 3;

export interface FailedAttempt {
  readonly task: number;
  readonly frame: number;
  /** Its name. */
  readonly node: string;
  /** Of the fault. */
  readonly code: string;
}

/** What a node's first attempt of the run came to. */
export interface FirstAttempt {
  readonly node: string;
  readonly task: number;
  /** null: it made the frame. */
  readonly code: string | null;
}

export interface BlameFacts {
  /** Failures that count, oldest first. */
  readonly failed: readonly FailedAttempt[];
  /** Who made those of the failed tasks that were made after all. */
  readonly made: ReadonlyMap<number, string>;
  /** What became of each node's first attempt. */
  readonly firsts: readonly FirstAttempt[];
  /** Nodes that made a frame of the run. */
  readonly makers: ReadonlySet<string>;
  /** Nodes that may take frames of the run now. */
  readonly takers: readonly string[];
}

export interface SceneBlame {
  /** Of the fault that all had. */
  readonly code: string;
  readonly nodes: readonly string[];
  readonly frames: readonly number[];
}

export interface NodeBlame {
  readonly node: string;
  /** That it failed on and others made. */
  readonly frames: readonly number[];
  /** The error it had most often on them. */
  readonly code: string;
}

export interface Verdict {
  /** Null where the scene is not to blame. */
  readonly scene: SceneBlame | null;
  /** Those that are. */
  readonly nodes: readonly NodeBlame[];
  /** Tasks to set aside. */
  readonly tasks: readonly number[];
}

/** In the order in which they come. */
const distinct = <T>(values: readonly T[]): T[] => [...new Set(values)];

/** Only while no node has made anything: a scene that one node renders is no broken scene. */
function blameScene({ failed, firsts, makers, takers }: BlameFacts): SceneBlame | null {
  if (takers.length === 0 || takers.some((node) => makers.has(node))) return null;
  const [code] = failed.map((f) => f.code);
  if (code === undefined) return null;
  const tell = (counted: readonly FailedAttempt[]): SceneBlame => ({
    code,
    nodes: [...takers],
    frames: distinct(counted.map((f) => f.frame)).sort((a, b) => a - b),
  });
  if (takers.length === 1) {
    // One node alone: its first two frames, so that one bad frame is not taken for a bad scene.
    const own = failed.filter((f) => f.node === takers[0]);
    return own.every((f) => f.code === code) && distinct(own.map((f) => f.task)).length >= FRAME_FAILURES
      ? tell(own)
      : null;
  }
  const first = takers.map((node) => firsts.find((f) => f.node === node));
  if (!first.every((f) => f?.code === code) || distinct(first.map((f) => f!.task)).length < 2) return null;
  return tell(failed.filter((f) => first.some((g) => g!.task === f.task)));
}

/** A node that fails alone is the matter with it, not with what it renders. */
function blameNodes({ failed, made, takers }: BlameFacts): NodeBlame[] {
  const blamed: NodeBlame[] = [];
  for (const node of takers) {
    const proven = failed.filter((f) => f.node === node && made.has(f.task) && made.get(f.task) !== node);
    if (distinct(proven.map((f) => f.task)).length < NODE_FAILURES) continue;
    const times = (code: string): number => proven.filter((f) => f.code === code).length;
    const [code] = distinct(proven.map((f) => f.code)).sort((a, b) => times(b) - times(a));
    blamed.push({ node, frames: distinct(proven.map((f) => f.frame)).sort((a, b) => a - b), code: code! });
  }
  return blamed;
}

/**
 * Judges the failures of a run. Pure; nothing that was decided before is an argument, so it may be asked
 * again at any time.
 */
export function judge(facts: BlameFacts): Verdict {
  const scene = blameScene(facts);
  if (scene !== null) return { scene, nodes: [], tasks: [] };
  const nodes = blameNodes(facts);
  const isBlamed = (node: string): boolean => nodes.some((b) => b.node === node);
  const tasks = distinct(facts.failed.map((f) => f.task)).filter((task) => {
    if (facts.made.has(task)) return false;
    // What a node that is to blame says of a frame is no evidence.
    const own = facts.failed.filter((f) => f.task === task && !isBlamed(f.node));
    const mayTry = facts.takers.some((node) => !isBlamed(node) && !own.some((f) => f.node === node));
    return (
      distinct(own.map((f) => f.node)).length >= FRAME_FAILURES || (own.length >= FRAME_FAILURES && !mayTry)
    );
  });
  return { scene: null, nodes, tasks };
}

/** First pause before a failed frame is tried again; each further one is three times as long. */
const FIRST_PAUSE_SECONDS = 2;
/** A frame is tried again in five minutes at the latest. */
const LONGEST_PAUSE_SECONDS = 300;

/** Seconds until a frame is tried again.
 * @param tries how often it failed, from 1
 * @param random 0 to 1: spreads what failed at the same moment by a quarter to either side
 */
export const retryPause = (tries: number, random: number): number =>
  Math.min(LONGEST_PAUSE_SECONDS, FIRST_PAUSE_SECONDS * 3 ** (tries - 1)) * (0.75 + random / 2);
