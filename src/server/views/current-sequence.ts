/** Which sequence a shot's code alone means: on the pages and on the command line the same. */
import { mainSequenceOf } from "@/core/plan/plan";
import { pool } from "../db/pool";
import { latestRevision, listVersions, sequencesOfVersion, type SequenceRow } from "../store/shots";

/**
 * The one that stands for the chosen final version, else for the newest that is open: mostly the beauty of the first
 * camera that its plan names; null before there is one.
 */
export async function currentSequence(shotId: number): Promise<SequenceRow | null> {
  const finals = (await listVersions(pool(), shotId)).filter((v) => v.purpose === "final").reverse();
  for (const version of [
    ...finals.filter((v) => v.status === "chosen"),
    ...finals.filter((v) => v.status === "open"),
  ]) {
    const revision = await latestRevision(pool(), version.id);
    const main = revision === null ? null : mainSequenceOf(revision.plan);
    const found = (await sequencesOfVersion(pool(), version.id)).find(
      (s) => s.camera === main?.camera && s.pass === main.pass,
    );
    if (found !== undefined) return found;
  }
  return null;
}
