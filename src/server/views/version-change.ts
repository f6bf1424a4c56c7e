/**
 * What some frames of a version have become: read of these frames alone, so that it costs the same in a long
 * sequence as in a short one.
 */
import type { VersionChange } from "@/contract/sequence-view";
import { type FrameSet, members } from "@/core/frames/frame-set";
import { packSet } from "@/core/tally/packed";
import { pool } from "../db/pool";
import { closedFindingsOfFrames } from "../store/findings";
import { runById } from "../store/runs";
import { sequencesOfVersion } from "../store/shots";
import { viewRun } from "./runs";
import { viewFrames } from "./sequence";
import { loadVersion } from "./tally";

/**
 * @param runIds runs that the change belongs to; proofs among them are no runs of the sequence and are left
 * out
 * @returns null for a version that has no sequence
 */
export async function viewChange(
  versionId: number,
  frames: FrameSet,
  runIds: readonly number[],
): Promise<VersionChange | null> {
  const [sequence] = await sequencesOfVersion(pool(), versionId);
  if (sequence === undefined) return null;
  const [states, runs] = await Promise.all([
    loadVersion(sequence, { only: frames }),
    Promise.all(runIds.map((id) => runById(pool(), id))),
  ]);
  const list = [...members(frames)];
  return {
    frames: packSet(frames),
    sequences: await Promise.all(
      states.map(async (state) =>
        viewFrames(state, await closedFindingsOfFrames(pool(), state.sequence.id, list)),
      ),
    ),
    runs: await Promise.all(runs.filter((r) => r !== null && r.kind === "sequence").map((r) => viewRun(r!))),
  };
}
