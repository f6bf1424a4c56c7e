/** Every file that a handover shows is unpacked to its last pixel first; what is damaged becomes a finding. */
import fs from "node:fs/promises";
import path from "node:path";
import { pool, transact } from "../db/pool";
import { TallyError } from "../errors";
import { checkDeep } from "../files/check-deep";
import { sha256 } from "../files/content";
import { noteDamage } from "../store/damage";
import { lockFile } from "../store/frame-files";
import type { Making } from "./making";
import { fileOf, type Reel } from "./reel";

/** Names that a sentence holds. */
const TOLD = 20;

/** @throws TallyError `handover-damaged`, `handover-picture-gone` */
export async function requireUndamaged(reel: Reel, { signal, say }: Making): Promise<void> {
  const damaged: string[] = [];
  const seen = new Set<string>();
  for (const slot of reel.slots) {
    if (slot.kind === "card") continue;
    signal.throwIfAborted();
    const source = reel.sources[slot.of]!;
    const name = fileOf(source, slot.from);
    const place = path.join(source.folder, name);
    if (seen.has(place)) continue;
    seen.add(place);
    const bytes = await fs.readFile(place).catch((error: NodeJS.ErrnoException) => {
      throw error.code === "ENOENT" ? new TallyError("handover-picture-gone", { file: name }) : error;
    });
    const verdict = await checkDeep(name, bytes);
    if (verdict.verdict !== "damaged") continue;
    const { code, detail } = verdict;
    damaged.push(`${name} (${detail ?? code ?? "damaged"})`);
    const { id } = source.sequence;
    await transact(async (tx) => {
      await lockFile(tx, id, slot.from);
      await noteDamage(tx, { sequenceId: id, frame: slot.from, content: sha256(bytes) }, verdict);
    }, pool());
  }
  say(`deep check: ${seen.size} files, ${damaged.length === 0 ? "all whole" : `${damaged.length} damaged`}`);
  if (damaged.length > 0)
    throw new TallyError("handover-damaged", {
      files:
        damaged.length > TOLD ? [...damaged.slice(0, TOLD), `and ${damaged.length - TOLD} more`] : damaged,
    });
}
