/**
 * Makes and updates the shots of a project from an edit: one a name, with what is used and handles. Nothing is
 * ever made shorter or taken away. The edit is kept, in its order.
 */
import type { Who } from "@/contract/who";
import type { EditImport, NewlyNeeded } from "@/contract/shot-import";
import { matchEdit, numbersOfSceneFrames, setOfPhrase } from "@/core/edit/edit-use";
import { shotsOfEdit, timeLineFor, timeLineGrown } from "@/core/edit/edit-shots";
import type { EditList } from "@/core/edit/edit-list";
import { difference, firstOf, type FrameSet, lastOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { BLANK_WISH } from "@/core/plan/shot-wish";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { editUsesOfProject, insertEdit, saveEditUse, shotsOfNewestEdit } from "../store/edits";
import { appendEvent } from "../store/events";
import { requireProject } from "../store/find-shot";
import type { ProjectRow } from "../store/projects";
import { listShots, type ShotRow } from "../store/shots";
import { currentSequence } from "../views/current-sequence";
import { stateOf } from "../views/tally";
import { bringInShots, type WishInList } from "./bring-in-shots";
import { readEdit } from "./import-edit";

export interface EditWish {
  /** Of the file. */
  readonly name: string;
  readonly text: string;
  /** Frames before and behind what is used, for shots that are made or grow. */
  readonly handles: number;
  /** Only says what would come of it. */
  readonly isDry: boolean;
}

/** Frames that each shot of the project is used with, in its own count. */
const usesOf = (edit: EditList, project: ProjectRow, shots: readonly ShotRow[]) =>
  matchEdit(
    edit,
    shots.map((s) => ({
      code: s.code,
      timeLine: { first: s.firstFrame, last: s.lastFrame, rate: project.rate },
    })),
  ).uses;

function wishesOf(
  edit: EditList,
  project: ProjectRow,
  shots: readonly ShotRow[],
  handles: number,
): WishInList[] {
  const uses = new Map(usesOf(edit, project, shots).map((use) => [use.code, use.frames]));
  return shotsOfEdit(
    edit,
    shots.map((s) => s.code),
  ).shots.map((asked) => {
    const wish = { ...BLANK_WISH, code: asked.code };
    const line = /^line (\d+)$/.exec(asked.at);
    const at = line === null ? {} : { line: Number(line[1]) };
    const shot = shots.find((s) => s.code === asked.code);
    if (shot === undefined) return { ...wish, ...at, timeLine: timeLineFor(asked.used, handles) };
    const frames = uses.get(shot.code);
    const [first, last] = frames === undefined ? [null, null] : [firstOf(frames), lastOf(frames)];
    const there = { first: shot.firstFrame, last: shot.lastFrame };
    return {
      ...wish,
      ...at,
      timeLine: first === null || last === null ? null : timeLineGrown(there, { first, last }, handles),
    };
  });
}

/** Of frames that a cut newly shows, how many have no good picture. */
async function missingOf(shot: ShotRow, frames: FrameSet): Promise<number> {
  const sequence = await currentSequence(shot.id);
  if (sequence === null) return frames.count;
  const { tally, revision } = await stateOf(sequence);
  return difference(numbersOfSceneFrames(frames, revision.plan), tally.results.good).count;
}

/** Against the edit before: what is shown that was not, and the other way round. */
async function compare(
  edit: EditList,
  project: ProjectRow,
  shots: readonly ShotRow[],
): Promise<Pick<EditImport, "gone" | "shorter" | "needed">> {
  const uses = usesOf(edit, project, shots);
  const before = new Map(
    (await editUsesOfProject(pool(), project.id)).map((u) => [u.code, setOfPhrase(u.frames)]),
  );
  const needed: NewlyNeeded[] = [];
  const shorter: string[] = [];
  for (const { code, frames } of uses) {
    const known = before.get(code);
    if (known === undefined) continue;
    const fresh = difference(frames, known);
    if (difference(known, frames).count > 0) shorter.push(code);
    if (fresh.count > 0)
      needed.push({
        code,
        frames: formatPhrase(fresh),
        count: fresh.count,
        missing: await missingOf(
          shots.find((s) => s.code === code)!,
          fresh,
        ),
      });
  }
  const shown = new Set(uses.map((use) => use.code));
  const earlier = (await shotsOfNewestEdit(pool(), project.id)) ?? [];
  return { gone: earlier.filter((code) => !shown.has(code)), shorter, needed };
}

/** @throws TallyError `project-unknown`, `edit-unreadable`, `edit-matches-nothing` where no clip bears a name */
export async function bringInEdit(
  slug: string,
  { name, text, handles, isDry }: EditWish,
  who: Who = null,
): Promise<EditImport> {
  const project = await requireProject(slug);
  const edit = readEdit(name, text, project.rate);
  const shots = await listShots(pool(), project.id);
  const wishes = wishesOf(edit, project, shots, handles);
  if (wishes.length === 0)
    throw new TallyError("edit-matches-nothing", { file: name, project: project.title, names: "none" });
  const comparison = await compare(edit, project, shots);
  const brought = await bringInShots(slug, wishes, { isDry, who });
  if (!isDry) await keepEdit(edit, project);
  const sound = [...new Set(edit.sound.map(({ names }) => names[0] ?? "?"))];
  return { ...brought, title: edit.title, sound, ...comparison };
}

/** What each shot is used with, and the order of the clips. */
async function keepEdit(edit: EditList, project: ProjectRow): Promise<void> {
  const shots = await listShots(pool(), project.id);
  const { codes } = shotsOfEdit(
    edit,
    shots.map((s) => s.code),
  );
  await transact(async (tx) => {
    for (const use of usesOf(edit, project, shots))
      await saveEditUse(tx, shots.find((s) => s.code === use.code)!.id, edit.title, formatPhrase(use.frames));
    await insertEdit(
      tx,
      project.id,
      edit.title,
      edit.clips.map(({ first, end, starts }, i) => ({ code: codes[i] ?? null, first, end, starts })),
      edit.sound,
    );
    await appendEvent(tx, "plan");
  });
}
