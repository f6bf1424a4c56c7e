/** A disk that is full holds the runs that write to it; they go on when there is room for the frames in work. */
import fs from "node:fs/promises";
import type { RunHeld } from "@/contract/hold";
import { planCheckpointBytes } from "@/core/plan/checkpoint";
import { guessPassBytes } from "@/core/plan/consequences";
import { type Pass, passesOfBits } from "@/core/plan/passes";
import type { Plan } from "@/core/plan/plan";
import { savesSamples } from "@/core/plan/renderer";
import { type Pool, transact } from "../db/pool";
import { fromJson, row, rows, write } from "../db/rows";
import { projectFolder } from "../files/paths";
import { holdRun } from "../queue/failures";
import { forgetOpenQueue } from "../queue/open-runs";
import { appendEvent } from "../store/events";

/** No room, or no more of what this user may have. */
const FULL = new Set(["ENOSPC", "EDQUOT"]);
export const isFull = (code: string | undefined): boolean => code !== undefined && FULL.has(code.replace(/^file-/, "").toUpperCase());

/** Between two looks at the free space of held runs. */
const LOOK_MS = 2_000;
/** Room for so many frames of each that is in work: its file, and what another program takes meanwhile. */
const ROOM_FRAMES = 2;

async function freeBytes(folder: string): Promise<number | null> {
  const stat = await fs.statfs(folder).catch(() => null);
  return stat === null ? null : stat.bavail * stat.bsize;
}

interface SpaceRun {
  readonly id: number;
  readonly sequenceId: number;
  readonly root: string;
  readonly folder: string;
}

const SPACE_RUN = `SELECT r.id, r.sequence_id AS sequenceId, r.held, p.root, p.folder, COALESCE(r.plan, e.plan) AS plan FROM run r JOIN plan_revision e ON e.id = r.revision_id
  JOIN sequence q ON q.id = r.sequence_id JOIN version v ON v.id = q.version_id JOIN shot s ON s.id = v.shot_id JOIN project p ON p.id = s.project_id`;

/** What the run's own files of each pass take, where it has any. */
const measuredBytes = async (pool: Pool, runId: number): Promise<ReadonlyMap<Pass, number>> =>
  new Map((await rows<{ pass: Pass; bytes: number }>(pool, "SELECT q.pass, AVG(f.bytes) + 0e0 AS bytes FROM attempt a JOIN frame_file f ON f.attempt_id = a.id JOIN sequence q ON q.id = f.sequence_id WHERE a.run_id = ? GROUP BY q.pass", [runId])).map((r) => [r.pass, r.bytes]));

/** Holds a run that found no room for a frame, with what all that is left will need. */
export async function holdForSpace(pool: Pool, runId: number): Promise<void> {
  const run = await row<SpaceRun & { readonly plan: unknown }>(pool, `${SPACE_RUN} WHERE r.id = ?`, [runId]);
  if (run === null) return;
  const plan = fromJson<Plan>(run.plan);
  const measured = await measuredBytes(pool, runId);
  const left = await rows<{ passes: number; count: number; inWork: number }>(pool, "SELECT passes, COUNT(*) AS count, SUM(state = 'leased') + 0e0 AS inWork FROM task WHERE run_id = ? AND state IN ('waiting', 'leased') GROUP BY passes", [runId]);
  const bytesOf = (passes: number): number => passesOfBits(passes).reduce((sum, pass) => sum + (measured.get(pass) ?? guessPassBytes(plan, pass)), 0);
  const all = left.reduce((sum, l) => sum + bytesOf(l.passes) * l.count, 0);
  const inWork = Math.max(1, left.reduce((sum, l) => sum + l.inWork, 0));
  const samples = savesSamples(plan) ? planCheckpointBytes(plan) : 0;
  const need = Math.ceil(all + samples * inWork);
  const largest = left.reduce((most, l) => Math.max(most, bytesOf(l.passes)), 0);
  const goesOnAt = Math.min(need, Math.ceil(inWork * (ROOM_FRAMES * largest + samples)));
  const free = (await freeBytes(projectFolder(run))) ?? 0;
  await transact((tx) => holdRun(tx, run, { code: "disk-full", need, goesOnAt, free }), pool);
  forgetOpenQueue(pool);
}

/** Looks, now and then, whether held runs have room again. */
export class SpaceWatch {
  readonly #pool: Pool;
  #lookedAt = 0;

  constructor(pool: Pool) {
    this.#pool = pool;
  }

  async look(): Promise<void> {
    if (performance.now() - this.#lookedAt < LOOK_MS) return;
    this.#lookedAt = performance.now();
    const held = await rows<SpaceRun & { readonly held: unknown }>(this.#pool, `${SPACE_RUN} WHERE r.state = 'active' AND JSON_VALUE(r.held, '$.code') = 'disk-full'`);
    for (const run of held) {
      const before = fromJson<Extract<RunHeld, { code: "disk-full" }>>(run.held);
      const free = await freeBytes(projectFolder(run));
      // Room may have been made before the figure was first taken: only a run that stays held needs no news of the same figure.
      const goesOn = free !== null && free >= before.goesOnAt;
      if (free === null || (!goesOn && free === before.free)) continue;
      const now = goesOn ? null : JSON.stringify({ ...before, free } satisfies RunHeld);
      await transact(async (tx) => {
        const { matched } = await write(tx, "UPDATE run SET held = ? WHERE id = ? AND state = 'active' AND JSON_VALUE(held, '$.code') = 'disk-full'", [now, run.id]);
        if (matched === 1) await appendEvent(tx, "run", run.sequenceId, run.id);
      }, this.#pool);
    }
  }
}
