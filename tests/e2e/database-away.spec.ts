/** The database dies and comes back while pages are open. */
import { expect, test } from "./alive";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { startMariadb } from "../../scripts/lib/mariadb.mjs";
import { openStage } from "../support/stage";
import { sentence, startRun } from "./pages";

test("the database goes away and comes back: the page says it, keeps what is on it, and goes on by itself", async ({
  page,
}) => {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-db-"));
  let database = await startMariadb(folder, { anySchema: true });
  const stage = await openStage(database.url);
  try {
    await stage.addShot("IN050", { frames: "1-3" });
    const server = await stage.startServer();
    await page.goto(`${server.address}/p/test-film/shots/IN050?bench=run`);
    await expect(sentence(page)).toHaveText("0 of 3 good, 3 missing.");
    process.kill(database.pid, "SIGKILL");
    await expect(page.getByRole("alert").filter({ hasText: "The database does not answer" })).toBeVisible();
    await expect(sentence(page)).toHaveText("0 of 3 good, 3 missing.");
    const another = await page.context().newPage();
    await another.goto(`${server.address}/`);
    await expect(another.getByText("The projects cannot be shown")).toBeVisible();
    database = await startMariadb(folder, { port: database.port, anySchema: true });
    await expect(another.getByRole("region", { name: "Shot IN050" })).toBeVisible();
    await another.close();
    await page.bringToFront();
    await expect(page.getByRole("alert").filter({ hasText: "The database does not answer" })).toBeHidden();
    await stage.startNode("mole-1");
    await startRun(page, "3 frames");
    await expect(sentence(page)).toHaveText("All 3 good.");
  } finally {
    await stage.strike();
    await database.stop();
    await fs.rm(folder, { recursive: true, force: true });
  }
});
