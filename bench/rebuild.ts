/**
 * 10,000 frames with their tasks, attempts and files, of which the database is lost: brought back from the record, and
 * the files looked at. The yardstick is to read every file once and to hash it.
 */
import fs from "node:fs/promises";
import path from "node:path";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { frameName } from "@/core/plan/plan";
import { PROJECT } from "@/demo/project";
import { rebuildBelow } from "@/server/actions/rebuild";
import { startRun } from "@/server/actions/start-run";
import { migrate } from "@/server/db/migrate";
import { closePool, pool } from "@/server/db/pool";
import { write } from "@/server/db/rows";
import { sha256 } from "@/server/files/content";
import { imageTools } from "@/server/files/image-tools";
import { sequencePlace } from "@/server/files/layout";
import { catchUp } from "@/server/folder/check";
import { writeRecords } from "@/server/record/recorder";
import { latestRevision, readSavedPlan, requireSequence, type SequenceRow } from "@/server/store/shots";
import { emptyDatabase } from "../tests/support/stage";
import { type Measured, rounded } from "./measured";
import { withRealRun } from "./real-run";

const FRAMES = 10_000;
const LIMIT_SECONDS = 60;

/** Files that a run of ours would have made, each another picture. @returns their folder */
async function layFrames(sequence: SequenceRow): Promise<string> {
  const plan = readSavedPlan((await latestRevision(pool(), sequence.versionId))!)!;
  const folder = sequencePlace(sequence);
  await fs.mkdir(folder, { recursive: true });
  for (let frame = 1; frame <= FRAMES; frame++) {
    const pixels = new Uint8Array(64 * 36 * 3).map((_, i) => (i * frame) & 255);
    await fs.writeFile(
      path.join(folder, frameName(plan, sequence, frame)),
      writePng(rgb8(64, 36, pixels), {}, imageTools),
    );
  }
  return folder;
}

/** What nodes would have written down of them. */
async function noteAttempts(runId: number): Promise<void> {
  await write(
    pool(),
    `INSERT INTO node (name, host, pid, session, started_at, seen_at)
      VALUES ('bench', 'bench', 1, UUID(), NOW(3), NOW(3))`,
  );
  await write(
    pool(),
    `INSERT INTO attempt (task_id, run_id, sequence_id, frame, node_id, ended_at, outcome, render_seconds, samples)
      SELECT t.id, t.run_id, t.sequence_id, t.frame, n.id, NOW(3), 'done', 1.5, 16
        FROM task t JOIN node n
        WHERE t.run_id = ?`,
    [runId],
  );
  await write(
    pool(),
    `UPDATE task t JOIN attempt a ON a.task_id = t.id
      SET t.state = 'done', t.attempt_id = a.id, t.node_id = a.node_id
      WHERE t.run_id = ?`,
    [runId],
  );
  await write(pool(), "UPDATE run SET state = 'done', ended_at = NOW(3) WHERE id = ?", [runId]);
}

async function loseDatabase(home: string): Promise<void> {
  const url = process.env.PLAIN_TALLY_DATABASE_URL!;
  await closePool();
  await emptyDatabase(url, new URL(url).pathname.slice(1));
  await migrate(pool(), path.join(home, "db"));
}

export async function rebuild(home: string): Promise<Measured> {
  return withRealRun(home, { frames: `1-${FRAMES}`, width: 64, height: 36 }, async ({ sequenceId }) => {
    const { runId } = await startRun({
      ...{ sequenceId, scope: "version", phrase: "all", policy: "all", nodes: null },
    });
    await noteAttempts(runId);
    const sequence = await requireSequence(sequenceId);
    const folder = await layFrames(sequence);
    await catchUp(sequence);
    await writeRecords(pool());
    await loseDatabase(home);

    const read = performance.now();
    for (const name of await fs.readdir(folder)) sha256(await fs.readFile(path.join(folder, name)));
    const yardstick = (performance.now() - read) / 1000;
    const began = performance.now();
    const { frames, attempts } = await rebuildBelow({ root: PROJECT.root, folder: PROJECT.folder });
    const value = (performance.now() - began) / 1000;
    if (frames !== FRAMES || attempts !== FRAMES)
      throw new Error(`${frames} frames and ${attempts} attempts came back.`);
    return {
      name: "rebuild",
      value: rounded(value),
      unit: "s",
      yardstick: rounded(yardstick),
      ratio: rounded(value / yardstick),
      goal: `${FRAMES} frames with their attempts back in under ${LIMIT_SECONDS} s; the yardstick reads and hashes every file once`,
      holds: value < LIMIT_SECONDS,
    };
  });
}
