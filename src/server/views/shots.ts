/** The ledger: every shot of a project as one line. */
import { packTally } from "@/core/tally/packed";
import type { ShotLine, ShotsView, ProjectsView } from "@/contract/shot-view";
import { type FrameSet, memberAt } from "@/core/frames/frame-set";
import { pool } from "../db/pool";
import type { FileRow } from "../store/frame-files";
import { listProjects, listShots } from "../store/shots";
import { currentSequence } from "./current-sequence";
import { loadSequence } from "./tally";
import { runOnShow } from "./runs";
import { contentOf } from "./shot";
import { requireProject } from "../store/find-shot";

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

/** What a house holds: its projects, and how many shots each has. */
export async function viewProjects(): Promise<ProjectsView> {
  const projects = await listProjects(pool());
  return {
    projects: await Promise.all(
      projects.map(async ({ id, slug, title }) => ({
        slug,
        title,
        shots: (await listShots(pool(), id)).length,
      })),
    ),
  };
}

/**
 * A line for each shot that has a sequence: its counts, its run, its time. Read one after another, so that a
 * ledger of 500 shots does not take all connections of the pool. @throws TallyError `project-unknown`
 */
export async function viewShots(slug: string): Promise<ShotsView> {
  const project = await requireProject(slug);
  const shots: ShotLine[] = [];
  for (const shot of await listShots(pool(), project.id)) {
    const sequence = await currentSequence(shot.id);
    if (sequence === null) continue;
    const [state, run] = await Promise.all([loadSequence(sequence.id), runOnShow(sequence.versionId)]);
    shots.push({
      code: shot.code,
      title: shot.title,
      first: shot.firstFrame,
      last: shot.lastFrame,
      version: sequence.version,
      purpose: sequence.purpose,
      camera: sequence.camera,
      pass: sequence.pass,
      sequenceId: sequence.id,
      tally: packTally(state.tally),
      run,
      poster: posterOf(sequence.id, state.files, state.tally.asked),
    });
  }
  return { project: { title: project.title, slug: project.slug, rate: project.rate }, shots };
}
