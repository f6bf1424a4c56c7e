/**
 * A disk that is full holds the runs that write to it; they go on when there is room for the frames in work.
 */
import { keepsState } from "../scenes/renderers";
import { planCheckpointBytes } from "@/core/run/checkpoint";
import { passesOfBits } from "@/core/plan/passes";
import { savesSamples } from "@/core/plan/renderer";
import { type Pool, transact } from "../db/pool";
import { freeBytes } from "../files/free-space";
import { projectFolder } from "../files/paths";
import { forgetOpenQueue } from "../queue/open-runs";
import {
  framesLeft,
  isHeldForSpace,
  measuredBytes,
  plansOfRun,
  runsHeldForSpace,
  saveSpaceHeld,
  spacePlaceOf,
} from "../store/run-space";
import { appendRunEvent } from "../store/run-versions";
import { FAULTS, fileFaultCode } from "@/contract/faults";
import { holdRun } from "../store/run-state";
import { guessPassBytes } from "@/core/plan/pass-bytes";

/** No room, or no more of what this user may have. @param errno such as ENOSPC */
export const isFull = (errno: string | null): boolean =>
  errno !== null && FAULTS[fileFaultCode(errno)].blame === "disk";

/** Between two looks at the free space of held runs. */
const LOOK_MS = 2_000;
/** Room for so many frames of each that is in work: its file, and what another program takes meanwhile. */
const ROOM_FRAMES = 2;

/**
 * Holds a run that found no room for a frame, with what all that is left will need. Nothing happens to one
 * that is held already.
 * @param waiting bytes of a picture that waits for room; 0 when it is none
 */
export async function holdForSpace(pool: Pool, runId: number, waiting: number): Promise<void> {
  const place = await spacePlaceOf(pool, runId);
  if (place === null || (await isHeldForSpace(pool, runId))) return;
  const plans = await plansOfRun(pool, runId);
  const measured = new Map(
    (await measuredBytes(pool, runId)).map((m) => [`${m.versionId}/${m.pass}`, m.bytes]),
  );
  const left = (await framesLeft(pool, runId)).map(({ versionId, passes, count, inWork }) => {
    const plan = plans.get(versionId)!;
    const frame = passesOfBits(passes).reduce(
      (sum, pass) => sum + (measured.get(`${versionId}/${pass}`) ?? guessPassBytes(plan, pass)),
      0,
    );
    return {
      frame,
      count,
      inWork,
      samples: savesSamples(plan, { keepsState: keepsState(plan.renderer) }) ? planCheckpointBytes(plan) : 0,
    };
  });
  const inWork = Math.max(
    1,
    left.reduce((sum, l) => sum + l.inWork, 0),
  );
  const samples = left.reduce((most, l) => Math.max(most, l.samples), 0);
  const need = Math.ceil(left.reduce((sum, l) => sum + l.frame * l.count, 0) + samples * inWork);
  const largest = left.reduce((most, l) => Math.max(most, l.frame), 0);
  const goesOnAt = Math.max(waiting, Math.min(need, Math.ceil(inWork * (ROOM_FRAMES * largest + samples))));
  const free = (await freeBytes(projectFolder(place))) ?? 0;
  await transact(
    (tx) => holdRun(tx, runId, { code: "disk-full", need: Math.max(waiting, need), goesOnAt, free }),
    pool,
  );
  forgetOpenQueue(pool);
}

/** Looks, now and then, whether held runs have room again. */
export class SpaceWatch {
  readonly #pool: Pool;
  #lookedAt = 0;

  constructor(pool: Pool) {
    this.#pool = pool;
  }

  /** At most once in a while: a share may take long to answer. */
  async look(): Promise<void> {
    if (performance.now() - this.#lookedAt < LOOK_MS) return;
    this.#lookedAt = performance.now();
    for (const { id, held, ...place } of await runsHeldForSpace(this.#pool)) {
      const free = await freeBytes(projectFolder(place));
      // Room may have been made before the figure was first taken: only a run that stays held needs no news
      // of the same figure.
      const goesOn = free !== null && free >= held.goesOnAt;
      if (free === null || (!goesOn && free === held.free)) continue;
      await transact(async (tx) => {
        if (await saveSpaceHeld(tx, id, goesOn ? null : { ...held, free })) await appendRunEvent(tx, id);
      }, this.#pool);
    }
  }
}
