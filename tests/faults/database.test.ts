/** The database killed the hard way in the middle of a run, and brought back. */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool } from "@/server/db/pool";
import { runById } from "@/server/store/runs";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { startMariadb } from "../../scripts/lib/mariadb.mjs";
import { openStage, type Stage, until } from "../support/stage";
import { listRendering } from "@/server/store/tasks";

test("a run goes on by itself when its database was killed and comes back; no frame is lost", async () => {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-db-"));
  let database = await startMariadb(folder);
  let stage: Stage | null = null;
  try {
    stage = await openStage(database.url);
    const shot = await stage.addShot("B1", { frames: "1-6", width: 160, height: 90, samples: 24 });
    await stage.startNode("quay-1");
    const { runId } = await startRun({
      sequenceId: shot.sequenceId,
      phrase: "all",
      policy: "fill",
      nodes: null,
      scope: "version",
    });
    await until("a frame is in work", async () => (await listRendering(pool())).length > 0);
    process.kill(database.pid, "SIGKILL");
    await until("the database is gone", async () =>
      pool()
        .query("SELECT 1")
        .then(
          () => false,
          () => true,
        ),
    );
    await expect(loadSequence(shot.sequenceId)).rejects.toBeDefined();
    database = await startMariadb(folder, { port: database.port });
    await until(
      "the run is done",
      async () => (await runById(pool(), runId).catch(() => null))?.state === "done",
    );
    expect(countsOf((await loadSequence(shot.sequenceId)).tally).results).toMatchObject({ good: 6 });
    expect(await fs.readdir(shot.folder)).toHaveLength(6);
  } finally {
    await stage?.strike();
    await closePool();
    await database.stop();
    await fs.rm(folder, { recursive: true, force: true });
  }
});
