/** Which sequence a shot's code alone means: on the pages and on the command line the same. */
import { pool } from "../db/pool";
import { latestRevision, listVersions, sequencesOfVersion, type SequenceRow } from "../store/shots";

/**
 * Beauty of the chosen final version, else of the newest that is open, of the first camera that its plan
 * names; null before there is one.
 */
export async function currentSequence(shotId: number): Promise<SequenceRow | null> {
  const finals = (await listVersions(pool(), shotId)).filter((v) => v.purpose === "final").reverse();
  for (const version of [
    ...finals.filter((v) => v.status === "chosen"),
    ...finals.filter((v) => v.status === "open"),
  ]) {
    const revision = await latestRevision(pool(), version.id);
    const found = (await sequencesOfVersion(pool(), version.id)).find(
      (s) => s.camera === revision?.plan.cameras[0] && s.pass === "beauty",
    );
    if (found !== undefined) return found;
  }
  return null;
}
