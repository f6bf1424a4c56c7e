/** The database is brought up to date while nodes render and pages are read: nobody has to stop for it, and no frame is lost. */
import fs from "node:fs/promises";
import path from "node:path";
import { countsOf } from "@/core/tally/tally";
import { startRun } from "@/server/actions/start-run";
import { migrate } from "@/server/db/migrate";
import { closePool, pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { runById } from "@/server/store/runs";
import { runCounts } from "@/server/store/tasks";
import { loadSequence } from "@/server/views/tally";
import { HOME, openStage, type Stage, until } from "../support/stage";

/** What a next version might bring: columns in the tables that nodes write all night, and a table of its own. */
const NEXT = {
  "900_task_more.sql": "ALTER TABLE task ADD COLUMN IF NOT EXISTS more INT NULL",
  "901_attempt_more.sql":
    "ALTER TABLE attempt ADD COLUMN IF NOT EXISTS more VARCHAR(20) NOT NULL DEFAULT 'none'",
  "902_file_more.sql":
    "ALTER TABLE frame_file ADD COLUMN IF NOT EXISTS more INT NULL, ADD KEY IF NOT EXISTS by_more (more)",
  "903_more.sql": "CREATE TABLE IF NOT EXISTS more (id INT PRIMARY KEY) ENGINE=InnoDB",
} as const;

let stage: Stage;
afterAll(async () => {
  await stage.strike();
  await closePool();
});

test("a database that is brought up to date in the middle of a run costs no frame and no attempt", async () => {
  stage = await openStage();
  const shot = await stage.addShot("U1", { frames: "1-120", samples: 16 });
  const { address } = await stage.startServer();
  await stage.startNode("quay-1");
  await stage.startNode("quay-2");
  const { runId } = await startRun({
    ...{ sequenceId: shot.sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" },
  });
  const next = path.join(stage.root, "next-db");
  await fs.cp(path.join(HOME, "db"), next, { recursive: true });
  for (const [name, text] of Object.entries(NEXT))
    await fs.writeFile(path.join(next, "migrations", name), text);
  await until("frames come", async () => (await runCounts(pool(), runId)).done > 5);
  await migrate(pool(), next);
  expect((await runCounts(pool(), runId)).done).toBeLessThan(120);
  expect(
    await rows(pool(), "SELECT name FROM schema_migration WHERE name LIKE 'migrations/90%' ORDER BY name"),
  ).toEqual(Object.keys(NEXT).map((name) => ({ name: `migrations/${name}` })));
  await until("the run is done", async () => (await runById(pool(), runId))?.state === "done");
  expect(
    await rows(pool(), "SELECT id FROM attempt WHERE run_id = ? AND outcome <> 'done'", [runId]),
  ).toEqual([]);
  expect(await rows(pool(), "SELECT COUNT(*) + 0e0 AS n FROM attempt WHERE run_id = ?", [runId])).toEqual([
    { n: 120 },
  ]);
  expect(countsOf((await loadSequence(shot.sequenceId)).tally).results).toMatchObject({ good: 120 });
  // Rows of the new columns go into the records, and pages are read as before.
  expect((await fetch(`${address}/p/test-film/shots/U1`)).status).toBe(200);
});
