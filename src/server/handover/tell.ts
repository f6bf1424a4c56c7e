/** Tells somebody what became of a handover, where that was asked for. */
import { callProgram } from "../call-program";
import { pool } from "../db/pool";
import type { HandoverRow } from "../store/handovers";
import { projectById } from "../store/projects";
import { sequenceById } from "../store/shots";

export type Told =
  | { readonly state: "done"; readonly path: string }
  /** @param why sentences */
  | { readonly state: "failed" | "awaiting"; readonly why: string };

/** The shot that it is of, or the project whose edit it is. */
async function nameOf({ projectId, sequenceId }: HandoverRow): Promise<string> {
  if (sequenceId !== null) return (await sequenceById(pool(), sequenceId))?.shot ?? "";
  return (await projectById(pool(), projectId))?.slug ?? "";
}

/** Called once for each thing that becomes of it, by whoever has written that. */
export async function tellOfHandover(row: HandoverRow, told: Told): Promise<void> {
  if (!row.wish.tells) return;
  callProgram("whenHandedOver", {
    handover: row.id,
    of: await nameOf(row),
    name: row.name ?? row.outside ?? "",
    state: told.state,
    path: told.state === "done" ? told.path : "",
    why: told.state === "done" ? "" : told.why,
  });
}
