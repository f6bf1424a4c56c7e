/** Watches the folders of all sequences and catches up with what changes in them. Runs in the server process. */
import fs from "node:fs/promises";
import { watch } from "chokidar";
import pLimit from "p-limit";
import pino from "pino";
import { pool } from "../db/pool";
import { isLeftoverName } from "@/core/naming/group-files";
import { listSequences, type SequenceRow } from "../store/shots";
import { catchUp } from "./check";
import { sequencePlace } from "../files/layout";
import { isDatabaseAway } from "../db/away";

/** Changes come in bursts; a folder is looked at once the burst is over. */
const QUIET_MS = 600;
/** New versions appear while the server runs, and shares without change notes are polled at the same pace. */
const SWEEP_MS = 10_000;

const log = pino({ name: "folder-watch" });
const shared = globalThis as unknown as { plainTallyWatch?: boolean };

export function watchFolders(): void {
  if (shared.plainTallyWatch) return;
  shared.plainTallyWatch = true;
  const one = pLimit(1);
  const watched = new Map<string, SequenceRow>();
  const due = new Map<string, NodeJS.Timeout>();
  const watcher = watch([], { depth: 0, ignoreInitial: true, ignored: (file) => isLeftoverName(file) });
  const look = (folder: string): void => {
    const sequence = watched.get(folder);
    if (sequence === undefined) return;
    clearTimeout(due.get(folder));
    due.set(
      folder,
      setTimeout(() => {
        one(() => catchUp(sequence)).catch((error: unknown) => {
          if (!isDatabaseAway(error)) log.error(error);
        });
      }, QUIET_MS),
    );
  };
  watcher.on("all", (_event, file) => {
    for (const folder of watched.keys()) if (file.startsWith(folder)) look(folder);
  });
  const sweep = async (): Promise<void> => {
    try {
      for (const sequence of await listSequences(pool())) {
        const folder = sequencePlace(sequence);
        if (!watched.has(folder) && (await fs.stat(folder).catch(() => null)) !== null) {
          watched.set(folder, sequence);
          watcher.add(folder);
        }
        if (watched.has(folder)) look(folder);
      }
    } catch (error) {
      if (!isDatabaseAway(error)) log.error(error);
    }
    setTimeout(() => void sweep(), SWEEP_MS);
  };
  void sweep();
}
