/**
 * Saved samples of one attempt on their way to their place. Placing goes one after the other, so that an
 * older save never comes to lie over a newer one; what is left under temporary names when the attempt ends is
 * removed.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { LeaseLost } from "../errors";
import type { SavedCheckpoint } from "../engines/engine";
import { insideFolder } from "../files/paths";
import { clearLeftovers, placeCheckpoint } from "./place-checkpoint";
import type { LogLevel } from "@/contract/log";
import { checkpointFolder } from "../files/layout";
import type { AttemptHost } from "./attempt-host";
import type { LeasedFrame } from "../queue/leased-frame";

/** Puts the saved samples of one attempt in place, one after the other, and leaves no temporary file. */
export class CheckpointKeeper {
  readonly #host: AttemptHost;
  readonly #lease: LeasedFrame;
  readonly #log: (level: LogLevel, text: string) => void;
  #folder = "";
  #placing: Promise<void> = Promise.resolve();
  readonly #temporaries: string[] = [];

  constructor(host: AttemptHost, lease: LeasedFrame, log: (level: LogLevel, text: string) => void) {
    this.#host = host;
    this.#lease = lease;
    this.#log = log;
  }

  /**
   * Makes the folder of the camera's saved samples, and clears what vanished nodes left of this frame.
   * @returns the folder
   */
  async open(version: string): Promise<string> {
    const { camera, frame, lostAttempts } = this.#lease;
    this.#folder = await insideFolder(version, path.relative(version, checkpointFolder(version, camera)));
    await fs.mkdir(this.#folder, { recursive: true });
    clearLeftovers(this.#folder, frame, lostAttempts);
    return this.#folder;
  }

  /** In its turn; a failure is told and the frame goes on without it. */
  place(saved: SavedCheckpoint): void {
    this.#temporaries.push(saved.temporary);
    this.#placing = this.#placing
      .then(() =>
        this.#host.whileAway(() => placeCheckpoint(this.#host.pool, this.#lease, this.#folder, saved)),
      )
      .catch((error: unknown) => {
        if (error instanceof LeaseLost) throw error;
        // The frame itself goes on: what is lost is only a place to go on from.
        this.#log("warning", `samples could not be saved: ${(error as Error).message}`);
      });
    // Heard by `settle`; until then it must not end the process.
    this.#placing.catch(() => undefined);
  }

  /** Waits until all is in place. Throws LeaseLost. */
  settle(): Promise<void> {
    return this.#placing;
  }

  /** When the attempt has ended, however it did. */
  async clear(): Promise<void> {
    await this.#placing.catch(() => undefined);
    for (const temporary of this.#temporaries) await fs.rm(temporary, { force: true }).catch(() => undefined);
    if (this.#folder !== "") clearLeftovers(this.#folder, this.#lease.frame, [this.#lease.attemptId]);
  }
}
