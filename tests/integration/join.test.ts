/** A machine is invited, proves that it is where it should be, works with the rights of a node, and is turned out. */
import fs from "node:fs";
import net from "node:net";
import os from "node:os";
import path from "node:path";
import mysql from "mysql2/promise";
import { type Invitation, readInvitation, writeInvitation } from "@/contract/invitation";
import type { JoinedHouse } from "@/contract/joined";
import { countsOf } from "@/core/tally/tally";
import { flagFrames } from "@/server/actions/flags";
import { startRun } from "@/server/actions/start-run";
import { inviteNode, revokeNode } from "@/server/actions/invite-node";
import { dropNodeAccount, makeNodeAccount } from "@/server/db/node-accounts";
import { CLOSED_TO_NODES, NODE_RIGHTS } from "@/server/db/node-rights";
import { closePool, makePool, pool } from "@/server/db/pool";
import { rows, write } from "@/server/db/rows";
import { noteInstalled } from "@/server/store/installed";
import { installation } from "@/server/installation";
import { keepHouse } from "@/server/housekeeping/keep-house";
import { writeRecords } from "@/server/record/recorder";
import { listNodes } from "@/server/store/nodes";
import { loadSequence } from "@/server/views/tally";
import { ensureCertificate } from "../../scripts/lib/certificate.mjs";
import { freePort, startMariadb } from "../../scripts/lib/mariadb.mjs";
import { type Machine, machineAt } from "../support/machine";
import { killAndWait, openStage, type Stage, until } from "../support/stage";

/** Of this machine, and not the one that the house itself comes by. */
const ELSEWHERE = "127.0.0.2";

const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-join-"));
let database: Awaited<ReturnType<typeof startMariadb>>;
let stage: Stage;
let port: number;
let count = 0;
/** A machine that knows nothing yet. */
const newMachine = (): Machine => machineAt(path.join(folder, `machine-${++count}`));
const invite = (name: string, again = false): Promise<Invitation> =>
  inviteNode({ name, roots: { frames: stage.root }, address: null, again }, "Mara");
const keptBy = (machine: Machine): JoinedHouse =>
  JSON.parse(fs.readFileSync(path.join(machine.folder, "joined.json"), "utf8")) as JoinedHouse;

beforeAll(async () => {
  port = await freePort();
  const tls = await ensureCertificate(path.join(folder, "tls"));
  database = await startMariadb(path.join(folder, "mariadb"), {
    port,
    anySchema: true,
    listen: { address: ELSEWHERE, ...tls },
  });
  fs.mkdirSync(path.join(folder, "run"));
  fs.writeFileSync(
    path.join(folder, "run/state.json"),
    JSON.stringify({ listen: { address: ELSEWHERE, port, certificate: tls.certificate } }),
  );
  stage = await openStage(database.url, { data: folder });
  await noteInstalled(pool(), installation().version);
});
afterAll(async () => {
  await stage.strike();
  await closePool();
  await database.stop();
  fs.rmSync(folder, { recursive: true, force: true });
});

test("what is invited joins by one line, renders, and ends when its key is revoked; its frame goes back", async () => {
  const machine = newMachine();
  const said = await stage.cli("invite", "--name", "mole-2", "--root", `frames=${stage.root}`);
  expect(said.stderr).toContain(`mole-2 joins ${ELSEWHERE}:${port}`);
  expect(said.stdout).toMatch(/^plain-tally join tally1\.[\w-]+\n$/);
  expect((await stage.cli("invite")).stdout).toMatch(/^mole-2 {2}invited {2}invited by /);
  // As it was printed, through a pipe: no list of processes shows the key.
  const joined = await machine.cli(["join", "-", "--no-node"], said.stdout);
  expect(joined).toMatchObject({ code: 0, stderr: "" });
  expect(joined.stdout).toContain(`${stage.root} is the root frames of the house.`);
  expect(fs.statSync(path.join(machine.folder, "joined.json")).mode & 0o077).toBe(0);

  const node = machine.start(["node", "--lease", "3"]);
  const { sequenceId } = await stage.addShot("JN010", { frames: "1-200" });
  await startRun({ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" });
  const good = async (): Promise<number> => countsOf((await loadSequence(sequenceId)).tally).results.good;
  await until("mole-2 has made some", async () => (await good()) >= 3);
  expect((await stage.cli("invite")).stdout).toMatch(/^mole-2 {2}joined /);
  expect(
    (
      await rows<{ c: string }>(
        pool(),
        "SELECT DISTINCT a.node AS c FROM (SELECT n.name AS node FROM attempt t JOIN node n ON n.id = t.node_id) a",
      )
    ).map((r) => r.c),
  ).toEqual(["mole-2"]);

  const over = new Promise<number | null>((resolve) => node.process.once("exit", resolve));
  expect((await stage.cli("revoke", "mole-2")).stdout).toContain("good no more");
  expect(await over).toBe(3);
  expect(node.said()).toContain("The key of mole-2 was revoked");
  expect((await stage.cli("invite")).stdout).toMatch(/^mole-2 {2}revoked /);
  // Its leases run out, and whoever comes next finishes.
  const next = await stage.startNode("quay-1");
  await until("all are good", async () => (await good()) === 200);
  await killAndWait(next);
  const [again] = [await machine.cli(["node", "--lease", "3"])];
  expect(again).toMatchObject({ code: 3 });
  expect(again!.stderr).toContain("The key of mole-2 was revoked");
});

test("its account can do what a node does, and nothing else", async () => {
  const machine = newMachine();
  expect((await machine.cli(["join", writeInvitation(await invite("rights")), "--no-node"])).code).toBe(0);
  const url = new URL(keptBy(machine).databaseUrl);
  const own = makePool(url.href, 1);
  for (const [table, rights] of Object.entries(NODE_RIGHTS)) {
    await rows(own, `SELECT * FROM \`${table}\` LIMIT 1`);
    const drop = own.query(`DELETE FROM \`${table}\` WHERE 1 = 0`);
    if (rights.includes("DELETE")) await drop;
    else await expect(drop).rejects.toMatchObject({ errno: 1142 });
  }
  for (const table of CLOSED_TO_NODES)
    await expect(own.query(`SELECT * FROM \`${table}\` LIMIT 1`)).rejects.toMatchObject({ errno: 1142 });
  for (const statement of [
    "DROP TABLE task",
    "CREATE TABLE own (a INT)",
    "CREATE USER other",
    "TRUNCATE task",
  ])
    await expect(own.query(statement)).rejects.toMatchObject({ errno: expect.any(Number) });
  await own.end();
  // Without TLS the same key opens nothing.
  url.search = "";
  await expect(mysql.createConnection(url.href)).rejects.toMatchObject({ errno: 1045 });
});

test("whoever is turned out in the middle of a statement is cut off, and never told that it may not read a table", async () => {
  for (const [round, again] of [false, true, false, true, false, true].entries()) {
    const name = `cut-${round}`;
    const machine = newMachine();
    await machine.cli(["join", writeInvitation(await invite(name)), "--no-node"]);
    const own = makePool(keptBy(machine).databaseUrl, 1);
    let wrong: unknown = null;
    let asked = 0;
    const asking = (async () => {
      while (wrong === null) {
        await rows(own, "SELECT id FROM run").catch((error: unknown) => (wrong = error));
        asked++;
      }
    })();
    await until("it asks", () => Promise.resolve(asked > 20));
    if (again) await makeNodeAccount(pool(), name, "another-key");
    else await dropNodeAccount(pool(), name);
    await asking;
    await own.end();
    expect([1045, 4151, undefined]).toContain((wrong as { errno?: number } | null)?.errno);
  }
});

test("no table is forgotten when rights are given", async () => {
  const tables = await rows<{ name: string }>(
    pool(),
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()",
  );
  expect([...Object.keys(NODE_RIGHTS), ...CLOSED_TO_NODES].sort()).toEqual(tables.map((t) => t.name).sort());
});

test("a whole night is within its rights: proofs, preflight, frames, what follows a run, housekeeping, records", async () => {
  const machine = newMachine();
  await machine.cli(["join", writeInvitation(await invite("nights")), "--no-node"]);
  // As one that has worked for long, and whose house was not kept for hours.
  await write(pool(), "DELETE FROM setting WHERE name = 'housekeeping'");
  const node = machine.start(["node", "--lease", "3"]);
  await until("it is there", async () => (await listNodes(pool())).some(({ name }) => name === "nights"));
  const { sequenceId } = await stage.addShot("JN030", { frames: "1-6" });
  const only = ["--nodes", "nights", "--wait"];
  const first = await stage.cli("run", "JN030", ...only, "--then", "report");
  expect(first).toMatchObject({ code: 0, stderr: expect.not.stringContaining("denied") });
  await until("what follows is made", async () =>
    (await rows<{ state: string }>(pool(), "SELECT state FROM handover")).some(
      ({ state }) => state === "done",
    ),
  );
  await flagFrames(sequenceId, "3", "too dark", "Mara");
  expect((await stage.cli("run", "JN030", "--policy", "mend", ...only)).code).toBe(0);
  const own = makePool(keptBy(machine).databaseUrl, 4);
  await keepHouse(own);
  await writeRecords(own);
  await own.end();
  expect(node.said()).not.toContain("denied");
  const over = new Promise<number | null>((resolve) => node.process.once("exit", resolve));
  node.process.kill("SIGTERM");
  expect(await over).toBe(0);
});

test("the house itself comes in from its own machine alone", async () => {
  const { password, username } = new URL(database.url);
  const from = (localAddress: string): Promise<mysql.Connection> =>
    mysql.createConnection({
      user: username,
      password,
      stream: net.connect({ host: "127.0.0.1", port, localAddress }),
    });
  await (await from("127.0.0.1")).end();
  await expect(from(ELSEWHERE)).rejects.toMatchObject({ errno: 1045 });
});

test("a machine with another version is refused by its name, and nothing is kept", async () => {
  const machine = newMachine();
  const word = writeInvitation(await invite("older"));
  await noteInstalled(pool(), "9.9.9");
  const refused = await machine.cli(["join", word]);
  await noteInstalled(pool(), installation().version);
  expect(refused).toMatchObject({ code: 2, stdout: "" });
  expect(refused.stderr).toContain(
    `older has Plain Tally ${installation().version}, and the house runs 9.9.9.`,
  );
  expect(fs.existsSync(path.join(machine.folder, "joined.json"))).toBe(false);
});

test("a node ends after the frame in work when its house is brought to another version", async () => {
  const node = await stage.startNode("quay-9");
  const { sequenceId } = await stage.addShot("JN020", { frames: "1-500" });
  await startRun({ sequenceId, phrase: "all", policy: "fill", nodes: ["quay-9"], scope: "version" });
  await until("it works", async () => countsOf((await loadSequence(sequenceId)).tally).results.good > 0);
  const over = new Promise<number | null>((resolve) => node.once("exit", resolve));
  await noteInstalled(pool(), "9.9.9");
  expect(await over).toBe(2);
  await noteInstalled(pool(), installation().version);
  const [counts] = await rows<{ left: number; failed: number }>(
    pool(),
    `SELECT COUNT(IF(t.state = 'leased', 1, NULL)) AS \`left\`, COUNT(IF(a.outcome = 'failed', 1, NULL)) AS failed
      FROM task t LEFT JOIN attempt a ON a.task_id = t.id WHERE t.sequence_id = ?`,
    [sequenceId],
  );
  expect(counts).toEqual({ left: 0, failed: 0 });
});

test.each<[what: string, (i: Invitation) => Invitation, told: string]>([
  ["another certificate", (i) => ({ ...i, fingerprint: "0".repeat(64) }), "its certificate is another"],
  ["nobody there", (i) => ({ ...i, port: 1 }), "does not answer at 127.0.0.2:1 (ECONNREFUSED)"],
  ["another key", (i) => ({ ...i, token: "x".repeat(43) }), "is good no more"],
  ["a root that it does not say", (i) => ({ ...i, roots: {} }), "--root frames=/folder"],
  ["another folder", (i) => ({ ...i, roots: { frames: os.tmpdir() } }), "is not the root frames"],
])("%s is told before anything is kept", async (_, change, told) => {
  const machine = newMachine();
  const refused = await machine.cli(["join", writeInvitation(change(await invite("mole-3", true)))]);
  expect(refused.code).not.toBe(0);
  expect(refused.stderr).toContain(told);
  expect(fs.existsSync(path.join(machine.folder, "joined.json"))).toBe(false);
});

test("a share that looks alike and is another one is told apart", async () => {
  const machine = newMachine();
  const invitation = await invite("mole-4");
  const alike = path.join(folder, "alike");
  fs.cpSync(path.join(stage.root, ".plain-tally"), path.join(alike, ".plain-tally"), { recursive: true });
  fs.writeFileSync(path.join(alike, ".plain-tally/invitation-mole-4"), "an old copy");
  const refused = await machine.cli(["join", writeInvitation(invitation), "--root", `frames=${alike}`]);
  expect(refused.stderr).toContain("is another there");
});

test("who is invited twice gets another key, and only where that is asked for", async () => {
  const first = await invite("twice");
  await expect(invite("twice")).rejects.toMatchObject({ code: "invited-already" });
  const second = await invite("twice", true);
  expect(second.token).not.toBe(first.token);
  expect((await newMachine().cli(["join", writeInvitation(first), "--no-node"])).stderr).toContain(
    "good no more",
  );
  expect((await newMachine().cli(["join", writeInvitation(second), "--no-node"])).code).toBe(0);
  await revokeNode("twice");
  await expect(revokeNode("nobody")).rejects.toMatchObject({ code: "invitation-unknown" });
});

test("a machine leaves by a word, and nodes of it know no house then", async () => {
  const machine = newMachine();
  await machine.cli(["join", writeInvitation(await invite("leaver")), "--no-node"]);
  expect((await machine.cli(["leave"])).stdout).toContain("plain-tally revoke leaver");
  expect((await machine.cli(["leave"])).code).toBe(2);
  expect((await machine.cli(["node", "--name", "leaver"])).code).toBe(3);
});

test("where nothing listens, nobody is invited", async () => {
  const file = path.join(folder, "run/state.json");
  const state = fs.readFileSync(file, "utf8");
  fs.writeFileSync(file, JSON.stringify({ listen: null }));
  const refused = await stage.cli("invite", "--name", "mole-5");
  fs.writeFileSync(file, state);
  expect(refused).toMatchObject({ code: 2, stdout: "" });
  expect(refused.stderr).toContain("start with --listen");
});

test.each(["", "tally1.", "tally1.e30", "tally2.x", "tally1.%%%"])("%p is no invitation", (word) =>
  expect(readInvitation(word).ok).toBe(false),
);
