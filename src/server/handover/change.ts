/** What a person does with a handover that is there: stop it, make it again, take it off the list, read its log. */
import type { Who } from "@/contract/who";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import {
  deleteHandover,
  handoverById,
  type HandoverRow,
  logOfHandover,
  stopHandover,
} from "../store/handovers";
import { createHandover } from "./create";

async function requireHandover(id: number): Promise<HandoverRow> {
  const row = await handoverById(pool(), id);
  if (row === null) throw new TallyError("handover-unknown");
  return row;
}

/** Whoever makes it lets it go; nothing of it is kept. @throws TallyError `handover-unknown`, `handover-over` */
export async function endHandover(id: number): Promise<void> {
  await requireHandover(id);
  if (!(await stopHandover(pool(), id))) throw new TallyError("handover-over");
}

/** The same wish once more, under the next name. @throws TallyError `handover-unknown`, and what createHandover does */
export async function makeAgain(
  id: number,
  who: Who,
): Promise<{ readonly id: number; readonly path: string }> {
  const { projectId, sequenceId, wish } = await requireHandover(id);
  return createHandover({ projectId, sequenceId, wish, who, runId: null, outside: null });
}

/** Off the list; its file stays. @throws TallyError `handover-unknown`, `handover-under-way` */
export async function forgetHandover(id: number): Promise<void> {
  await requireHandover(id);
  if (!(await deleteHandover(pool(), id))) throw new TallyError("handover-under-way");
}

/** @throws TallyError `handover-unknown` */
export async function handoverLog(id: number): Promise<{ readonly text: string }> {
  await requireHandover(id);
  return { text: await logOfHandover(pool(), id) };
}
