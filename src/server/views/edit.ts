/** The newest edit of a project, with what there is to be seen of each of its shots. */
import type { EditShot, EditView } from "@/contract/edit-view";
import { editReel } from "@/core/edit/edit-reel";
import { setOf } from "@/core/frames/frame-set";
import { isPass } from "@/core/plan/passes";
import { scaledSize } from "@/core/plan/picture";
import { type Plan, versionName } from "@/core/plan/plan";
import { STAND_IN } from "@/core/plan/renderer";
import { packSet } from "@/core/tally/packed";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { newestEdit } from "../store/edits";
import { requireProject } from "../store/find-shot";
import { listShots, type SequenceRow } from "../store/shots";
import { currentSequence } from "./current-sequence";
import { contentOf } from "./shot";
import { stateOf } from "./tally";

function shotOf(
  code: string,
  sequence: SequenceRow,
  plan: Plan,
  files: Awaited<ReturnType<typeof stateOf>>["files"],
): EditShot {
  const seen = files.filter((file) => contentOf(file) !== "").sort((a, b) => a.frame - b.frame);
  return {
    code,
    sequenceId: sequence.id,
    version: versionName(sequence),
    pass: isPass(sequence.pass) ? sequence.pass : "beauty",
    file: plan.file,
    alpha: plan.alpha,
    isOurs: plan.renderer === STAND_IN,
    size: plan.watched?.sequences[0]?.size ?? scaledSize(plan),
    frames: packSet(setOf(seen.map((file) => file.frame))),
    content: seen.map(contentOf),
  };
}

/** @throws TallyError `project-unknown`, `edit-none`, `edit-too-long` */
export async function viewEdit(slug: string): Promise<EditView> {
  const project = await requireProject(slug);
  const edit = await newestEdit(pool(), project.id);
  if (edit === null) throw new TallyError("edit-none", { project: project.title });
  const wanted = new Set(edit.clips.flatMap(({ code }) => (code === null ? [] : [code])));
  const shots: EditShot[] = [];
  const plans = new Map<string, Plan>();
  for (const shot of await listShots(pool(), project.id)) {
    if (!wanted.has(shot.code)) continue;
    const sequence = await currentSequence(shot.id);
    if (sequence === null) continue;
    const { read, files } = await stateOf(sequence);
    plans.set(shot.code, read.plan);
    shots.push(shotOf(shot.code, sequence, read.plan, files));
  }
  const stretches = editReel(edit.clips, (code) => plans.get(code) ?? null);
  if (stretches === null) throw new TallyError("edit-too-long");
  return {
    project: { title: project.title, slug: project.slug, rate: project.rate },
    name: edit.name,
    stretches,
    shots,
  };
}
