/**
 * What the batch system lists of its array jobs, a line a task or a lot of tasks that wait together:
 *
 *     10_2|tally-4|RUNNING|None|lamp-1|0
 *     10_[3-9,20-30:2%4]|tally-4|PENDING|Resources||0
 *
 * States are Slurm's; what they mean for a frame is said here and nowhere else.
 */
import { type FrameSet, setOf } from "../frames/frame-set";
import { LARGEST_ARRAY } from "./bounds";

/** What the tasks of a line are to those who wait for their frames. */
export type ArrayPhase = "waits" | "held" | "works" | "over";

/** Tasks of one array that are in the same state. */
export interface ArrayLine {
  /** Number of the array, or of one task that was parted from it. */
  readonly job: number;
  /** That it was given. */
  readonly name: string;
  readonly indices: FrameSet;
  readonly phase: ArrayPhase;
  /** In the batch system's own word. */
  readonly state: string;
  /** Why they wait, in its own word; null: no reason is told. */
  readonly reason: string | null;
  /** By its own name for the machine; null: none yet. */
  readonly machine: string | null;
  /** How far it stands back. */
  readonly nice: number;
}

const WAITS: readonly string[] = [
  "PENDING",
  "REQUEUED",
  "REQUEUE_FED",
  "REQUEUE_HOLD",
  "SPECIAL_EXIT",
  "RESV_DEL_HOLD",
];
const WORKS: readonly string[] = [
  "RUNNING",
  "COMPLETING",
  "CONFIGURING",
  "SUSPENDED",
  "STOPPED",
  "SIGNALING",
  "STAGE_OUT",
  "RESIZING",
];
/** Held by a person, or by the batch system after it was put back. */
const HELD = /Held|held/;

function phaseOf(state: string, reason: string): ArrayPhase {
  if (WAITS.includes(state)) return HELD.test(reason) || state.endsWith("HOLD") ? "held" : "waits";
  return WORKS.includes(state) ? "works" : "over";
}

/** `3-9,20-30:2%4`: the share after the sign is how many may run at once. Null: not understood. */
export function readIndices(text: string): FrameSet | null {
  const found: number[] = [];
  for (const term of text.replace(/%\d+$/, "").split(",")) {
    const match = /^(\d{1,7})(?:-(\d{1,7})(?::(\d{1,7}))?)?$/.exec(term);
    if (match === null) return null;
    const first = Number(match[1]);
    const last = Number(match[2] ?? first);
    const step = Number(match[3] ?? 1);
    if (step < 1 || last < first || last > LARGEST_ARRAY) return null;
    for (let index = first; index <= last; index += step) found.push(index);
  }
  return setOf(found);
}

/** Lines of other kinds of jobs, and what is not understood, are left out. */
export function readListing(text: string): ArrayLine[] {
  const lines: ArrayLine[] = [];
  for (const line of text.split("\n")) {
    const [id = "", name = "", state = "", reason = "", machine = "", nice = "0"] = line.trim().split("|");
    const match = /^(\d+)_(?:\[([^\]]+)\]|(\d+))$/.exec(id);
    const indices = match === null ? null : readIndices(match[2] ?? match[3]!);
    if (match === null || indices === null) continue;
    lines.push({
      job: Number(match[1]),
      name,
      indices,
      state,
      phase: phaseOf(state, reason),
      reason: reason === "" || reason === "None" ? null : reason,
      machine: machine === "" ? null : machine,
      nice: Number(nice) || 0,
    });
  }
  return lines;
}
