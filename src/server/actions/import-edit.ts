/** Reads an edit list and keeps, for each shot of the project that it names, which frames it uses. */
import path from "node:path";
import { BOUNDS } from "@/contract/bounds";
import type { ImportedEdit } from "@/contract/shot-view";
import type { EditList } from "@/core/edit/edit-list";
import { readEdl } from "@/core/edit/edl";
import { matchEdit, shotMeant } from "@/core/edit/edit-use";
import { readOtio } from "@/core/edit/otio";
import { formatPhrase } from "@/core/frames/phrase";
import type { Rate } from "@/core/timing/rate";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { appendEvent } from "../store/events";
import { insertEdit, saveEditUse } from "../store/edits";
import { listShots } from "../store/shots";
import { requireProject } from "../store/find-shot";

/** In a message; more would not be read. */
const NAMES_SHOWN = 8;

/**
 * @param name the file's; its ending tells the format, else its first sign does
 * @throws TallyError `edit-unreadable`
 */
export function readEdit(name: string, text: string, rate: Rate): EditList {
  const isTimeline = /\.(otio|json)$/i.test(name) || text.trimStart().startsWith("{");
  const read = isTimeline ? readOtio(text, rate) : readEdl(text, rate);
  if (!read.ok)
    throw new TallyError("edit-unreadable", { message: `${name}: ${read.fault.message}` }).with([
      { field: "frames", code: read.fault.code, message: read.fault.message },
    ]);
  const title = read.edit.title === "" ? path.parse(name).name : read.edit.title;
  if (title.length > BOUNDS.editTitle)
    throw new TallyError("edit-unreadable", {
      message: `${name}: its title has ${title.length} characters; at most ${BOUNDS.editTitle} are kept.`,
    });
  return { ...read.edit, title };
}

/** What the list takes of the shots that are there. */
export async function importEdit(slug: string, name: string, text: string): Promise<ImportedEdit> {
  const project = await requireProject(slug);
  const edit = readEdit(name, text, project.rate);
  const shots = await listShots(pool(), project.id);
  const { uses, unmatched } = matchEdit(
    edit,
    shots.map((s) => ({
      code: s.code,
      timeLine: { first: s.firstFrame, last: s.lastFrame, rate: project.rate },
    })),
  );
  if (uses.length === 0)
    throw new TallyError("edit-matches-nothing", {
      file: name,
      project: project.title,
      names: names(unmatched.map((c) => c.names[0] ?? "?")),
    }).at("frames", "No clip bears the name of a shot.");
  const { title } = edit;
  await transact(async (tx) => {
    for (const use of uses)
      await saveEditUse(tx, shots.find((s) => s.code === use.code)!.id, title, formatPhrase(use.frames));
    await insertEdit(
      tx,
      project.id,
      title,
      edit.clips.map((clip) => ({
        code: shotMeant(clip, shots)?.code ?? null,
        first: clip.first,
        end: clip.end,
        starts: clip.starts,
      })),
      edit.sound,
    );
    await appendEvent(tx, "plan");
  });
  return {
    title,
    matched: uses.reduce((sum, use) => sum + use.clips, 0),
    shots: uses.length,
    unmatched: [...new Set(unmatched.map((c) => c.names[0] ?? "?"))].slice(0, NAMES_SHOWN),
  };
}

/** For the message of a list that names none of ours. */
const names = (all: readonly string[]): string =>
  [...new Set(all)].slice(0, NAMES_SHOWN).join(", ") || "nothing";
