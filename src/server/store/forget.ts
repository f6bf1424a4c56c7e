/** Takes a shot with all that is known of it out of the database. No file is touched. */
import type { Tx } from "../db/pool";
import { rows, write } from "../db/rows";

/** Everything that hangs on a sequence or on a run, in an order in which no key is left hanging. */
const OF_RUNS = [
  "DELETE w FROM frame_preview w JOIN task t ON t.id = w.task_id WHERE t.run_id = ?",
  "DELETE l FROM attempt_line l JOIN attempt a ON a.id = l.attempt_id WHERE a.run_id = ?",
  "DELETE FROM attempt WHERE run_id = ?",
  "DELETE FROM task WHERE run_id = ?",
  "DELETE FROM proof_file WHERE run_id = ?",
  "DELETE FROM node_aside WHERE run_id = ?",
  "DELETE FROM run_share WHERE run_id = ?",
  "DELETE FROM array_job WHERE run_id = ?",
  "DELETE FROM dispatch WHERE run_id = ?",
  "DELETE FROM run_version WHERE run_id = ?",
  "DELETE FROM run WHERE id = ?",
];
const OF_SEQUENCES = [
  "DELETE FROM checkpoint WHERE sequence_id = ?",
  "DELETE FROM frame_measure WHERE sequence_id = ?",
  "DELETE FROM measure_task WHERE sequence_id = ?",
  "DELETE FROM finding WHERE sequence_id = ?",
  "DELETE FROM frame_file WHERE sequence_id = ?",
  "DELETE FROM handover WHERE sequence_id = ?",
  "DELETE FROM sequence WHERE id = ?",
];
const OF_VERSIONS = ["DELETE FROM plan_revision WHERE version_id = ?", "DELETE FROM version WHERE id = ?"];
const OF_SHOT = ["DELETE FROM edit_use WHERE shot_id = ?", "DELETE FROM shot WHERE id = ?"];

/** What of a version keeps it from being taken out, as the end of a sentence; null: it is empty. */
export async function whatHoldsVersion(tx: Tx, versionId: number): Promise<string | null> {
  const { files, samples, runs, roughs } = (
    await rows<{
      files: number;
      samples: number;
      runs: number;
      roughs: number;
    }>(
      tx,
      `SELECT
        (SELECT COUNT(*) FROM frame_file f JOIN sequence q ON q.id = f.sequence_id WHERE q.version_id = ?) AS files,
        (SELECT COUNT(*) FROM checkpoint c JOIN sequence q ON q.id = c.sequence_id WHERE q.version_id = ?) AS samples,
        (SELECT COUNT(*) FROM run_version WHERE version_id = ?) AS runs,
        (SELECT COUNT(*)
          FROM version v
          JOIN plan_revision e ON e.id = v.from_revision_id
          WHERE e.version_id = ?) AS roughs`,
      [versionId, versionId, versionId, versionId],
    )
  )[0]!;
  if (files > 0) return "it has files";
  if (samples > 0) return "samples of its frames are saved";
  if (runs > 0) return "runs or proofs were made of it";
  return roughs > 0 ? "a rough version was made from it" : null;
}

/** The caller has locked the versions of its shot and seen that nothing holds it. */
export async function deleteVersion(tx: Tx, versionId: number): Promise<void> {
  const sequences = await rows<{ id: number }>(tx, "SELECT id FROM sequence WHERE version_id = ?", [
    versionId,
  ]);
  for (const [statements, of] of [
    [OF_SEQUENCES, sequences.map(({ id }) => id)],
    [OF_VERSIONS, [versionId]],
  ] as const)
    for (const id of of) for (const statement of statements) await write(tx, statement, [id]);
}

/**
 * A run covers versions of one shot, so that it goes with them.
 * The caller has locked the versions and seen that no run of theirs goes on.
 */
export async function deleteShot(tx: Tx, shotId: number): Promise<void> {
  const ids = async (sql: string): Promise<number[]> =>
    (await rows<{ id: number }>(tx, sql, [shotId])).map((r) => r.id);
  const runs = await ids(
    `SELECT DISTINCT r.id
      FROM run r
      JOIN sequence q ON q.id = r.sequence_id
      JOIN version v ON v.id = q.version_id
      WHERE v.shot_id = ?`,
  );
  const sequences = await ids(
    "SELECT q.id FROM sequence q JOIN version v ON v.id = q.version_id WHERE v.shot_id = ?",
  );
  const versions = await ids("SELECT id FROM version WHERE shot_id = ?");
  for (const [statements, of] of [
    [OF_RUNS, runs],
    [OF_SEQUENCES, sequences],
    [OF_VERSIONS, versions],
    [OF_SHOT, [shotId]],
  ] as const)
    for (const id of of) for (const statement of statements) await write(tx, statement, [id]);
}
