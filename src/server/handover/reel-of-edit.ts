/** The newest edit of a project as one reel: each clip shows the version that stands for its shot. */
import { editReel, numberOfPlace } from "@/core/edit/edit-reel";
import { rangeSet, setOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { type Gaps, troubled, TROUBLES, troublesOf, usualSize } from "@/core/handover/line-up";
import { has } from "@/core/frames/frame-set";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { projectFolder } from "../files/paths";
import { newestEdit } from "../store/edits";
import type { ProjectRow } from "../store/projects";
import { listShots } from "../store/shots";
import { currentSequence } from "../views/current-sequence";
import { type Reel, type ReelSlot, type ReelSource, type ReelTrouble, sourceOfSequence } from "./reel";

/** @throws TallyError `edit-none`, `edit-too-long` */
export async function reelOfEdit(project: ProjectRow, gaps: Gaps): Promise<Reel> {
  const edit = await newestEdit(pool(), project.id);
  if (edit === null) throw new TallyError("edit-none", { project: project.title });
  const wanted = new Set(edit.clips.flatMap(({ code }) => (code === null ? [] : [code])));
  const sources: ReelSource[] = [];
  const placeOf = new Map<string, number>();
  for (const shot of await listShots(pool(), project.id)) {
    if (!wanted.has(shot.code)) continue;
    const sequence = await currentSequence(shot.id);
    if (sequence === null) continue;
    placeOf.set(shot.code, sources.length);
    sources.push(await sourceOfSequence(sequence));
  }
  const stretches = editReel(edit.clips, (code) => {
    const at = placeOf.get(code);
    return at === undefined ? null : sources[at]!.state.read.plan;
  });
  if (stretches === null) throw new TallyError("edit-too-long");
  /** Of each source, what the edit shows of it. */
  const shown: number[][] = sources.map(() => []);
  const slots: ReelSlot[] = [];
  const asked: { readonly of: number | null; readonly frame: number | null; readonly label: string }[] = [];
  for (const stretch of stretches)
    for (let n = 0; n < stretch.length; n++) {
      const frame = numberOfPlace(stretch, n);
      const of = stretch.code === null ? undefined : placeOf.get(stretch.code);
      if (of !== undefined && frame !== null) shown[of]!.push(frame);
      asked.push({
        of: of ?? null,
        frame: of === undefined ? null : frame,
        label: stretch.code === null ? "" : `${stretch.code} ${frame ?? ""}`,
      });
    }
  const troubles: ReelTrouble[] = [];
  const bad = sources.map((source, of) => {
    const frames = setOf(shown[of]!);
    const found = troublesOf(frames, source.state.tally, source.sizes);
    for (const kind of TROUBLES) if (found[kind].count > 0) troubles.push({ kind, of, set: found[kind] });
    return troubled(found);
  });
  let held: { readonly of: number; readonly frame: number } | null = null;
  for (const { of, frame, label } of asked) {
    if (of !== null && frame !== null && !has(bad[of]!, frame)) {
      held = { of, frame };
      slots.push({ kind: "picture", of, frame, from: frame });
      continue;
    }
    // A picture of another shot stands for none of this one.
    slots.push(
      gaps === "hold" && held !== null && held.of === of && frame !== null
        ? { kind: "picture", of, frame, from: held.frame }
        : { kind: "card", of, frame, label },
    );
  }
  const first = slots.find((slot) => slot.kind === "picture");
  const usual = first === undefined ? null : sources[first.of]!;
  const size =
    usual === null || first === undefined
      ? null
      : (usual.sizes.get(first.from) ?? usualSize(rangeSet(first.from, first.from), usual.sizes));
  const others = sources.filter(
    ({ sizes }, of) =>
      size !== null &&
      shown[of]!.some((frame) => {
        const own = sizes.get(frame);
        return own !== undefined && (own.width !== size.width || own.height !== size.height);
      }),
  );
  return {
    stem: `${project.slug}_edit`,
    title: `${project.title}: ${edit.name}`,
    sources,
    slots,
    troubles,
    frames: sources.map((s, of) => `${s.sequence.shot} ${formatPhrase(setOf(shown[of]!))}`).join(", "),
    size,
    rate: project.rate,
    folder: projectFolder(project),
    notes:
      size === null || others.length === 0
        ? []
        : [
            `Pictures of ${others.map((s) => s.sequence.shot).join(", ")} have another size and are fitted into ${size.width} x ${size.height}.`,
          ],
  };
}
