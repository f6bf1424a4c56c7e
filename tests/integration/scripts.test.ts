/** The set-up scripts: what they find installed, and a private database that nobody else can enter. */
import { spawn, spawnSync } from "node:child_process";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import mysql from "mysql2/promise";
import { freePort, startMariadb } from "../../scripts/lib/mariadb.mjs";
import { ensurePrograms, findProgram, MARIADB } from "../../scripts/lib/prepare.mjs";
import { House } from "../../scripts/lib/house.mjs";
import { identityOf, isRunning } from "../../scripts/lib/process-identity.mjs";
import { HOME, runCli, until } from "../support/stage";

let folder: string;
beforeAll(async () => {
  // Closed to others, as a home folder may be.
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-scripts-"));
  await fs.chmod(folder, 0o700);
});
afterAll(() => fs.rm(folder, { recursive: true, force: true }));

test("programs that are there are found, and then nothing is installed", async () => {
  for (const { program } of MARIADB) expect(findProgram(program)).not.toBeNull();
  expect(findProgram("no-such-program-anywhere")).toBeNull();
  await ensurePrograms(MARIADB);
});

test("a port that is free can be listened on", async () => expect(await freePort()).toBeGreaterThan(1023));

test("the private database keeps its data, listens on loopback only, and lets nobody in without the password", async () => {
  const place = path.join(folder, "a/b/c");
  let database = await startMariadb(place);
  try {
    const url = new URL(database.url);
    const own = await mysql.createConnection(database.url);
    await own.query("CREATE TABLE kept (n INT) ENGINE=InnoDB");
    await own.query("INSERT INTO kept VALUES (42)");
    const [address] = await own.query("SELECT @@bind_address AS address");
    expect(address).toEqual([{ address: "127.0.0.1" }]);
    // Its own schema, and nothing beside it.
    for (const statement of ["CREATE DATABASE other", "SELECT * FROM mysql.global_priv"])
      await expect(own.query(statement)).rejects.toMatchObject({ errno: expect.any(Number) });
    await own.end();
    for (const user of ["root", "tally"])
      await expect(
        mysql.createConnection({ host: "127.0.0.1", port: Number(url.port), user }),
      ).rejects.toMatchObject({ errno: expect.any(Number) });
    expect((await fs.stat(path.join(place, "password"))).mode & 0o077).toBe(0);
    await database.stop();
    database = await startMariadb(place);
    const again = await mysql.createConnection(database.url);
    expect((await again.query("SELECT n FROM kept"))[0]).toEqual([{ n: 42 }]);
    await again.end();
  } finally {
    await database.stop();
  }
});

test("a database that dies is started again on its port, and what was in it is there", async () => {
  const house = new House(path.join(folder, "house"), "demo");
  await house.open(await freePort());
  try {
    const { url, pid } = house.database!;
    const first = await mysql.createConnection(url);
    await first.query("CREATE TABLE kept (n INT) ENGINE=InnoDB");
    first.on("error", () => undefined);
    process.kill(pid, "SIGKILL");
    await until("another one has taken its place", () => Promise.resolve(house.database!.pid !== pid));
    expect(house.database!.url).toBe(url);
    const again = await mysql.createConnection(url);
    expect((await again.query("SELECT COUNT(*) AS n FROM kept"))[0]).toEqual([{ n: 0 }]);
    await again.end();
  } finally {
    await house.stopAll("Over");
  }
});

test("what an earlier start wrote down: broken it is told and put aside; a number that another process has ends nothing", async () => {
  const home = path.join(folder, "earlier");
  const state = path.join(home, "var/run/state.json");
  await fs.mkdir(path.dirname(state), { recursive: true });
  await fs.writeFile(state, "{ broken");
  const house = new House(home, "demo");
  await house.settleEarlier();
  expect(await fs.readFile(`${state}.broken`, "utf8")).toBe("{ broken");
  // A process of ours under the numbers of one that is gone: another start, or another program.
  const bystander = spawn(process.execPath, ["-e", "setInterval(() => undefined, 1000)"]);
  try {
    const now = await until("it is there", () => Promise.resolve(identityOf(bystander.pid!)));
    expect(isRunning(now)).toBe(true);
    for (const familiar of [
      { ...now, started: "long ago 7" },
      { ...now, program: "/usr/bin/other" },
    ])
      await fs
        .writeFile(state, JSON.stringify({ starter: familiar, address: "", processes: [familiar] }))
        .then(() => house.settleEarlier());
    expect([bystander.exitCode, bystander.signalCode]).toEqual([null, null]);
    // The very one is ended.
    await fs.writeFile(state, JSON.stringify({ starter: null, address: "", processes: [now] }));
    await house.settleEarlier();
    await until("it has ended", () => Promise.resolve(bystander.signalCode === "SIGTERM"));
  } finally {
    bystander.kill("SIGKILL");
  }
});

test("the command of a checkout that is not built says so", async () => {
  const bare = path.join(folder, "bare");
  await fs.mkdir(path.join(bare, "bin"), { recursive: true });
  await fs.copyFile(path.join(HOME, "bin/plain-tally.mjs"), path.join(bare, "bin/plain-tally.mjs"));
  const ended = spawnSync(process.execPath, [path.join(bare, "bin/plain-tally.mjs"), "frames", "1"], {
    encoding: "utf8",
    env: { ...process.env, PLAIN_TALLY_HOME: bare },
  });
  expect([ended.status, ended.stderr]).toEqual([3, expect.stringContaining("npm run build")]);
});

test.each([
  [["frobnicate"], 2, "unknown command"],
  [["frames", "1-5", "--frob"], 2, "unknown option"],
  [["check"], 2, "missing required argument"],
  [["check", "/no/such/place"], 2, "there is no file or folder"],
  [["scan", "/no/such/place"], 2, "there is no folder"],
  [["check", "/tmp", "--quick", "--deep"], 2, "exclude each other"],
  [["node", "--name", "no blanks here"], 2, "letters, digits"],
  [["run", "X", "--policy", "some"], 2, "fill, mend, all"],
])("%p is a wrong call", async (args, code, message) => {
  const ended = await runCli(args, { PLAIN_TALLY_DATABASE_URL: "mysql://x@127.0.0.1:9/x" });
  expect([ended.code, ended.stderr]).toEqual([code, expect.stringContaining(message)]);
});
