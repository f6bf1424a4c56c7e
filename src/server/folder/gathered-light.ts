/**
 * The first part of a run whose scene asks for gathered light: at which frames it must be there, and where it
 * is.
 */
import crypto from "node:crypto";
import fs from "node:fs/promises";
import { type FrameSet, members, setOf } from "@/core/frames/frame-set";
import type { LookSources } from "@/core/plan/fingerprint";
import { lightFrames } from "@/core/run/gathered-light";
import type { Plan } from "@/core/plan/plan";
import { pool } from "../db/pool";
import {
  faultOfLight,
  type LightFault,
  proveGatheredLight,
  writeGatheredLight,
} from "../files/gathered-light-files";
import { gatheredLightFile, gatheredLightFolder, temporaryOf, versionPlace } from "../files/layout";
import { putInPlace } from "../files/put-in-place";
import { listVersions, type SequenceRow } from "../store/shots";
import { beautyLook } from "../scenes/prints";

/** What frames of a camera need, and what of it is there. */
export interface LightNeed {
  readonly camera: string;
  /** Of the cache's own frames. */
  readonly missing: FrameSet;
  /** There, but damaged, or made from another scene or plan. */
  readonly unfit: FrameSet;
  /** Scene frames whose light fits, also where another version has it. */
  readonly there: FrameSet;
  /** Of these, files of other versions of the shot that a run would take over. */
  readonly elsewhere: ReadonlyMap<number, string>;
}

/** What decides the light: other settings may change and it still fits. */
export interface LightWish {
  readonly plan: Plan;
  readonly sources: LookSources;
  /** Frames from one cache to the next. */
  readonly every: number;
}

/** What the frames of one camera need of the cache.
 * @param sequence any of the version
 */
export async function lightNeed(
  sequence: SequenceRow,
  { plan, sources, every }: LightWish,
  camera: string,
  frames: FrameSet,
): Promise<LightNeed> {
  const [folder, ...others] = await lightFolders(sequence, camera);
  const look = beautyLook(plan, sources, camera);
  const found: (readonly [number, LightFault | null])[] = [];
  const elsewhere = new Map<number, string>();
  for (const frame of members(lightFrames(frames, every))) {
    let fault = await faultOfLight(gatheredLightFile(folder!, frame), look);
    for (const other of others) {
      if (fault === null) break;
      const file = gatheredLightFile(other, frame);
      if ((await faultOfLight(file, look)) !== null) continue;
      elsewhere.set(frame, file);
      fault = null;
    }
    found.push([frame, fault]);
  }
  const having = (...faults: readonly (LightFault | null)[]): FrameSet =>
    setOf(found.filter(([, fault]) => faults.includes(fault)).map(([frame]) => frame));
  return {
    camera,
    missing: having("missing"),
    unfit: having("damaged", "other"),
    there: having(null),
    elsewhere,
  };
}

/** Where light of a camera may lie: in its own version first, then in the others of its shot, the newest first. */
async function lightFolders(sequence: SequenceRow, camera: string): Promise<readonly string[]> {
  const versions = await listVersions(pool(), sequence.shotId);
  const others = versions.filter((v) => v.id !== sequence.versionId).sort((a, b) => b.id - a.id);
  return [sequence, ...others.map((v) => ({ ...sequence, ...v, version: v.number }))].map((version) =>
    gatheredLightFolder(versionPlace(version), camera),
  );
}

/**
 * Copies the light that other versions have into this one, whole and flushed: from then on the version needs no
 * other one, whatever becomes of that. What vanished meanwhile is gathered.
 */
export async function takeOverLight(
  sequence: SequenceRow,
  { plan, sources }: LightWish,
  { camera, elsewhere }: LightNeed,
): Promise<void> {
  const folder = gatheredLightFolder(versionPlace(sequence), camera);
  const look = beautyLook(plan, sources, camera);
  if (elsewhere.size > 0) await fs.mkdir(folder, { recursive: true });
  for (const [frame, from] of elsewhere) {
    const final = gatheredLightFile(folder, frame);
    const proven = await proveGatheredLight(from, look);
    if (typeof proven === "string") continue;
    const temporary = temporaryOf(final, crypto.randomUUID());
    try {
      await writeGatheredLight(temporary, proven.header, proven.content);
      putInPlace(temporary, final);
    } finally {
      await fs.rm(temporary, { force: true });
    }
  }
}
