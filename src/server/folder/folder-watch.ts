/**
 * Watches the folders of all sequences and catches up with what changes in them. Runs in the server
 * process. The system tells that something changed in a folder, and nothing is listed for that (a
 * library that lists the folder at each change took a third of a core where 20 frames a second went
 * into one with 1,000 files). Looking costs what the folder holds, so a long look is followed by a long
 * rest.
 */
import fs, { type FSWatcher } from "node:fs";
import pLimit from "p-limit";
import pino from "pino";
import { pool } from "../db/pool";
import { isLeftoverName } from "@/core/naming/group-files";
import { groupBy } from "@/core/many";
import { listSequences, type SequenceRow } from "../store/shots";
import { catchUp } from "./check";
import { sequencePlace } from "../files/layout";
import { isDatabaseAway } from "../db/away";
import { TallyError } from "../errors";
import { keepSmallPictures } from "./small-pictures";
import { requireSight } from "./project-sight";
import { restAfter } from "../rest-after";

/** Changes come in bursts: a folder is looked at so long after the first of one. */
const BURST_MS = 600;
/** New versions appear while the server runs, and shares without change notes are polled at the same pace. */
const SWEEP_MS = 10_000;

/** Small pictures that are made in one look. */
const SMALL_AT_ONCE = 16;

const log = pino({ name: "folder-watch" });
/** A database that is away is no news for a log: the watch goes on when it is back. */
const say = (error: unknown): void => {
  if (!isDatabaseAway(error)) log.error(error);
};
/** Of whatever was thrown. */
const textOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** A folder with what it was when it was entered. */
interface Watched {
  /** Several where something else puts the files of all its passes into one. */
  readonly sequences: readonly SequenceRow[];
  /** Another one under the same name is another folder. */
  readonly inode: number;
  /** null: the system does not watch it for us. */
  readonly watcher: FSWatcher | null;
}

/** Sequences by the folder that their files lie in; one on a root that is declared no more is nowhere. */
function byFolder(sequences: readonly SequenceRow[]): ReadonlyMap<string, readonly SequenceRow[]> {
  const placeOf = (sequence: SequenceRow): string | null => {
    try {
      return sequencePlace(sequence);
    } catch (error) {
      if (error instanceof TallyError && error.code === "root-unknown") return null;
      throw error;
    }
  };
  const folders = groupBy(sequences, placeOf);
  folders.delete(null);
  return folders as Map<string, SequenceRow[]>;
}

class FolderWatch {
  readonly #one = pLimit(1);
  readonly #watched = new Map<string, Watched>();
  /** Looks that are to come, by folder. */
  readonly #due = new Map<string, NodeJS.Timeout>();
  readonly #restsUntil = new Map<string, number>();
  /** What was said of a folder that cannot be looked at: it is said once, and not at each sweep. */
  readonly #said = new Map<string, string>();
  #sweepDue: NodeJS.Timeout | undefined;
  /** When a sweep last looked at everything, and milliseconds spent on looks since. */
  #sweptAt = -Infinity;
  #spent = 0;
  #isClosed = false;
  readonly #sweepMs: number;
  #sweeping: Promise<void> = Promise.resolve();

  constructor(sweepMs: number) {
    this.#sweepMs = sweepMs;
  }

  start(): void {
    this.#sweeping = this.#sweep();
  }

  /**
   * A sweep that is under way may be about to watch one more folder: its end is waited for before what is
   * watched is let go, or the system's watch would outlive this one and keep the process from ending.
   */
  async close(): Promise<void> {
    this.#isClosed = true;
    clearTimeout(this.#sweepDue);
    for (const timer of this.#due.values()) clearTimeout(timer);
    await this.#sweeping;
    await this.#one(() => undefined);
    for (const { watcher } of this.#watched.values()) watcher?.close();
  }

  /**
   * Later changes of a burst wait for the same look: a folder that never comes to rest is looked at all the
   * same.
   */
  #look(folder: string, afterMs = BURST_MS): void {
    if (this.#due.has(folder) || this.#isClosed) return;
    const rest = (this.#restsUntil.get(folder) ?? 0) - performance.now();
    this.#due.set(
      folder,
      setTimeout(
        () =>
          void this.#one(() => {
            // Until its turn comes, later changes are for this look: each folder waits in the queue once.
            this.#due.delete(folder);
            return this.#lookNow(folder);
          }),
        Math.max(afterMs, rest),
      ),
    );
  }

  /** Catches up with one folder, now and not when the sweep comes by. */
  async #lookNow(folder: string): Promise<void> {
    const found = this.#watched.get(folder);
    if (found === undefined || this.#isClosed) return;
    const began = performance.now();
    try {
      let restsInMs = 0;
      for (const sequence of found.sequences) {
        restsInMs = Math.max(restsInMs, (await catchUp(sequence)).restsInMs);
        // The others are for the next look: whatever changes meanwhile comes first.
        if ((await keepSmallPictures(sequence, SMALL_AT_ONCE)) > 0) restsInMs = Math.max(restsInMs, BURST_MS);
      }
      this.#said.delete(folder);
      if (restsInMs > 0) this.#look(folder, restsInMs);
    } catch (error) {
      if (this.#said.get(folder) !== textOf(error)) say(error);
      this.#said.set(folder, textOf(error));
    } finally {
      const took = performance.now() - began;
      this.#spent += took;
      this.#restsUntil.set(folder, performance.now() + restAfter(took));
    }
  }

  /** The folder is gone or no longer ours. */
  #leave(folder: string): void {
    this.#watched.get(folder)?.watcher?.close();
    this.#watched.delete(folder);
  }

  /** Where the system cannot watch, the sweep alone finds what changes. */
  #enter(folder: string, sequences: readonly SequenceRow[], inode: number): void {
    let watcher: FSWatcher | null = null;
    try {
      watcher = fs.watch(folder, (_event, file) => {
        if (file === null || !isLeftoverName(file)) this.#look(folder);
      });
      watcher.on("error", () => this.#leave(folder));
    } catch {
      // Gone again, or the system watches no more of them: the sweeps look at it.
    }
    this.#watched.set(folder, { sequences, inode, watcher });
  }

  /**
   * Enters and leaves as folders come and go. One that was deleted and made again is another one, which
   * nothing watches yet. What is new is looked at; what is known only where the looks of before have rested.
   */
  async #visit(folder: string, sequences: readonly SequenceRow[], isRested: boolean): Promise<void> {
    const stat = await fs.promises.stat(folder).catch(() => null);
    if (this.#isClosed) return;
    const known = this.#watched.get(folder);
    if (known !== undefined && known.inode !== stat?.ino) {
      // What is gone is noticed first; a place that cannot be read holds up none of the others.
      await this.#one(() => this.#lookNow(folder));
      this.#leave(folder);
      if (this.#isClosed) return;
    }
    const entered = this.#watched.get(folder);
    if (stat !== null && entered === undefined) this.#enter(folder, sequences, stat.ino);
    // What was taken in meanwhile may lie in a folder that is watched already.
    else if (entered !== undefined) this.#watched.set(folder, { ...entered, sequences });
    if (this.#watched.has(folder) && (isRested || entered === undefined)) this.#look(folder);
  }

  /** Projects whose folder cannot be seen: what is watched of them stays as it is. */
  async #hiddenAmong(sequences: readonly SequenceRow[]): Promise<ReadonlySet<string>> {
    const hidden = new Set<string>();
    for (const one of new Map(sequences.map((s) => [s.project, s])).values()) {
      if (this.#isClosed) break;
      await requireSight(one).catch((error: unknown) => {
        if (isDatabaseAway(error)) throw error;
        hidden.add(one.project);
      });
    }
    return hidden;
  }

  /** What was removed, archived or retired is watched no more. */
  #leaveAllBut(folders: ReadonlySet<string>): void {
    for (const folder of [...this.#watched.keys()]) if (!folders.has(folder)) this.#leave(folder);
  }

  /** Visits every folder, one after the other: what no watch has told is found here. */
  async #sweep(): Promise<void> {
    const began = performance.now();
    const isRested = began - this.#sweptAt >= restAfter(this.#spent);
    if (isRested) {
      this.#sweptAt = began;
      this.#spent = 0;
    }
    try {
      const sequences = await listSequences(pool());
      const hidden = await this.#hiddenAmong(sequences);
      const folders = byFolder(sequences);
      this.#leaveAllBut(new Set(folders.keys()));
      for (const [folder, all] of folders) {
        if (this.#isClosed) return;
        const inSight = all.filter((s) => !hidden.has(s.project));
        if (inSight.length > 0) await this.#visit(folder, inSight, isRested);
      }
    } catch (error) {
      say(error);
    }
    if (this.#isClosed) return;
    const restMs = restAfter(performance.now() - began);
    this.#sweepDue = setTimeout(() => this.start(), Math.max(this.#sweepMs, restMs));
  }
}

const shared = globalThis as { plainTallyWatch?: FolderWatch };

/** Once a process, however often it is asked.
 * @param sweepMs tests do not wait for long
 * @returns ends it; settled when nothing of it goes on
 */
export function watchFolders(sweepMs = SWEEP_MS): () => Promise<void> {
  if (shared.plainTallyWatch === undefined) {
    shared.plainTallyWatch = new FolderWatch(sweepMs);
    shared.plainTallyWatch.start();
  }
  const watch = shared.plainTallyWatch;
  return async () => {
    delete shared.plainTallyWatch;
    await watch.close();
  };
}
