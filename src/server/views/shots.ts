/** The ledger: every shot of a project as one line. */
import pLimit from "p-limit";
import { packTally } from "@/core/tally/packed";
import type { DeedView } from "@/contract/who";
import type { ShotCodes, ShotLine, ShotsView } from "@/contract/shot-view";
import { type FrameSet, memberAt } from "@/core/frames/frame-set";
import { pool } from "../db/pool";
import type { FileRow } from "../store/frame-files";
import { lastDeeds } from "../store/deeds";
import { newestEdit } from "../store/edits";
import { listAllShots, listShots, type ShotRow } from "../store/shots";
import { currentSequence } from "./current-sequence";
import { stateOf } from "./tally";
import { runOnShow } from "./runs";
import { contentOf } from "./shot";
import { requireProject } from "../store/find-shot";

/** As far into the shot: beginnings are often empty. */
const POSTER_AT = 2 / 3;

/** The good picture nearest to where the shot is two thirds over; once it is there, it stays. */
function posterOf(sequenceId: number, files: readonly FileRow[], asked: FrameSet): ShotLine["poster"] {
  const wanted = memberAt(asked, Math.floor(asked.count * POSTER_AT)) ?? 0;
  const distance = (file: FileRow): number => Math.abs(file.frame - wanted);
  const file = files
    .filter((f) => f.verdict === "good")
    .reduce<FileRow | null>((best, f) => (best === null || distance(f) < distance(best) ? f : best), null);
  return file === null ? null : { sequenceId, frame: file.frame, content: contentOf(file) };
}

/**
 * Lines that are read at one moment. Each asks three things at once: a ledger of 500 shots leaves the pool's
 * other connections to what people click.
 */
const LINES_AT_ONCE = 2;

/** The line of a shot; null before it has a sequence. */
async function lineOf(shot: ShotRow, deed: DeedView | null): Promise<ShotLine | null> {
  const sequence = await currentSequence(shot.id);
  if (sequence === null) return null;
  const [state, run] = await Promise.all([stateOf(sequence), runOnShow(sequence.versionId)]);
  return {
    code: shot.code,
    title: shot.title,
    first: shot.firstFrame,
    last: shot.lastFrame,
    version: sequence.version,
    purpose: sequence.purpose,
    isWatched: sequence.source !== null,
    camera: sequence.camera,
    cameras: state.read.plan.cameras.length,
    pass: sequence.pass,
    sequenceId: sequence.id,
    sequences: state.ofVersion.map((s) => s.id),
    tally: packTally(state.tally),
    nodes: Object.keys(state.nodes).sort(),
    run,
    poster: posterOf(sequence.id, state.files, state.tally.asked),
    deed,
  };
}

/**
 * Lines that stand in the first HTML and in an answer that names no shots. A ledger of 500 shots begins as
 * quickly as one of four; the page asks for the others.
 */
export const LINES_AT_FIRST = 4;

/**
 * A line for each shot that has a sequence: its counts, its run, its time.
 * @param only codes; null for all
 * @param most lines at most; the codes of the others are told
 * @throws TallyError `project-unknown`
 */
export async function viewShots(
  slug: string,
  only: ReadonlySet<string> | null = null,
  most = Number.POSITIVE_INFINITY,
): Promise<ShotsView> {
  const project = await requireProject(slug);
  const all = await listAllShots(pool(), project.id);
  const wanted = all.filter((shot) => !shot.isArchived && (only === null || only.has(shot.code)));
  const few = pLimit(LINES_AT_ONCE);
  const read = wanted.slice(0, most);
  const deeds = await lastDeeds(
    pool(),
    "shot_id",
    read.map(({ id }) => id),
  );
  const lines = await Promise.all(read.map((shot) => few(() => lineOf(shot, deeds.get(shot.id) ?? null))));
  return {
    project: { title: project.title, slug: project.slug, rate: project.rate },
    shots: lines.filter((line) => line !== null),
    rest: wanted.slice(most).map((shot) => shot.code),
    archived: all.filter((shot) => shot.isArchived).map((shot) => shot.code),
    edit: (await newestEdit(pool(), project.id))?.name ?? null,
  };
}

/** @throws TallyError `project-unknown` */
export async function viewCodes(slug: string): Promise<ShotCodes> {
  const { id } = await requireProject(slug);
  return { codes: (await listShots(pool(), id)).map((shot) => shot.code) };
}
