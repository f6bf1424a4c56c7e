/** The database in one file and back, also from every earlier schema. */
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import zlib from "node:zlib";
import { formatPhrase } from "@/core/frames/phrase";
import { flagFrames } from "@/server/actions/flags";
import { startRun } from "@/server/actions/start-run";
import { backUp } from "@/server/backup/back-up";
import { readBackup, RowSum } from "@/server/backup/backup-lines";
import { dropAll, restore } from "@/server/backup/restore";
import { applyFiles, migrate, sqlFiles } from "@/server/db/migrate";
import { pool } from "@/server/db/pool";
import { row, rows, write } from "@/server/db/rows";
import { appendEvent } from "@/server/store/events";
import { loadSequence } from "@/server/views/tally";
import { killAndWait, openStage, type Stage, until } from "../support/stage";
import { differencesOf, dumpTables } from "../support/tables";

const DB = path.join(__dirname, "../../db");
/** Of a node that was ended: nothing is waited for. */
const AWAY_SECONDS = 0;

let stage: Stage;
let sequenceId: number;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-backup-"));
const place = (name: string): string => path.join(folder, name);
const goodNow = async (): Promise<string> =>
  formatPhrase((await loadSequence(sequenceId)).tally.results.good);

beforeAll(async () => {
  stage = await openStage();
  ({ sequenceId } = await stage.addShot("BK010", { frames: "1-4" }));
  const node = await stage.startNode("quay-1");
  await startRun({ sequenceId, phrase: "all", policy: "fill", scope: "version", nodes: null }, "Mara");
  await until("1-4 are good", async () => (await goodNow()) === "1-4");
  await flagFrames(sequenceId, "2", "the lamp is off – “dark” \u0000\n", "Mara");
  await killAndWait(node);
});
afterAll(async () => {
  await stage.strike();
  fs.rmSync(folder, { recursive: true });
});

/** A backup with its lines changed. */
function changed(name: string, change: (lines: string[]) => readonly string[]): string {
  const lines = zlib
    .gunzipSync(fs.readFileSync(place("whole")))
    .toString("utf8")
    .trimEnd()
    .split("\n");
  const file = place(name);
  fs.writeFileSync(file, zlib.gzipSync(`${change(lines).join("\n")}\n`));
  return file;
}

test("a backup comes back row by row, with numbers that were given since not given again", async () => {
  const before = await dumpTables();
  const { sums } = await backUp(place("whole"), Date.now());
  expect(sums.frame_file).toMatchObject({ rows: 4 });
  await expect(backUp(place("whole"), Date.now())).rejects.toMatchObject({ code: "backup-exists" });
  expect(fs.readdirSync(folder)).toEqual(["whole"]);
  expect(fs.statSync(place("whole")).mode & 0o777).toBe(0o600);

  await stage.addShot("BK020", { frames: "1-2" });
  await write(pool(), "DELETE FROM finding");
  const next = async (): Promise<number> =>
    Number(
      (await row<{ n: number }>(
        pool(),
        "SELECT AUTO_INCREMENT AS n FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = 'shot'",
      ))!.n,
    );
  const given = await next();
  await expect(restore(place("whole"), DB, false, AWAY_SECONDS)).rejects.toMatchObject({
    code: "restore-over",
  });
  await expect(restore(place("whole"), DB, true, AWAY_SECONDS)).resolves.toMatchObject({ applied: [] });
  expect(differencesOf(before, await dumpTables())).toEqual([]);
  expect(await next()).toBe(given);
  expect(await goodNow()).toBe("1,3-4");
  // What is written from now on is news for the records again.
  await flagFrames(sequenceId, "3", "too dark");
  expect(
    Number(
      (await row<{ n: number }>(
        pool(),
        "SELECT COUNT(*) AS n FROM record_outbox WHERE table_name = 'finding'",
      ))!.n,
    ),
  ).toBeGreaterThan(0);
});

test("what pages write while it comes back neither stops it nor stays among its rows", async () => {
  let isBack = false;
  let written = 0;
  const writing = (async () => {
    while (!isBack) {
      const wrote = await Promise.all([
        appendEvent(pool(), "node"),
        write(pool(), "INSERT INTO setting (name, value) VALUES ('of-a-page', '1')"),
      ]).then(
        () => true,
        // Tables that are not there for a moment, rows that are there already.
        () => false,
      );
      if (wrote) written++;
    }
  })();
  await until("a page has written", () => Promise.resolve(written > 0));
  // Compared with the file before anybody else may write: a row more would be told.
  await expect(restore(place("whole"), DB, true, AWAY_SECONDS)).resolves.toMatchObject({ applied: [] });
  isBack = true;
  await writing;
  expect(await goodNow()).toBe("1,3-4");
});

test("while a node works with it nothing is put in its place", async () => {
  const node = await stage.startNode("quay-2");
  await until(
    "it is awake",
    async () => (await rows(pool(), "SELECT 1 FROM node WHERE name = 'quay-2'")).length === 1,
  );
  const before = await dumpTables();
  const ended = await stage.cli("restore", place("whole"), "--replace");
  expect([ended.code, ended.stderr]).toEqual([
    2,
    expect.stringMatching(/nodes? (is|are) at work with this database/),
  ]);
  await killAndWait(node);
  expect(differencesOf(before, await dumpTables()).filter((line) => !/^. node/.test(line))).toEqual([]);
});

test.each([
  ["cut short", (lines: string[]) => lines.slice(0, -1), /cut short/],
  ["a row less", (lines: string[]) => [...lines.slice(0, 1), ...lines.slice(2)], /rows of/],
  [
    "a letter of a row changed",
    (lines: string[]) => lines.map((l) => l.replace("lamp", "lump")),
    /rows of finding/,
  ],
  ["a row behind its end", (lines: string[]) => [...lines, lines[1]!], /behind its end/],
  [
    "a row of no table",
    (lines: string[]) => [lines[0]!, "[999,null]", ...lines.slice(1)],
    /no row of a table/,
  ],
  [
    "a table by a name that is a statement",
    (lines: string[]) => [lines[0]!.replace('"name":"shot"', '"name":"shot` (id) --"'), ...lines.slice(1)],
    /does not begin as one/,
  ],
  ["nothing", () => [], /no JSON|empty/],
])("a file with %s is refused before anything is touched", async (name, change, why) => {
  const before = await dumpTables();
  const file = changed(name.replaceAll(" ", "-"), change);
  const ended = await stage.cli("restore", file, "--replace");
  expect([ended.code, ended.stderr]).toEqual([2, expect.stringMatching(why)]);
  expect((await stage.cli("restore", file, "--check")).code).toBe(2);
  expect(differencesOf(before, await dumpTables())).toEqual([]);
});

test("what is no backup at all, one that ends in the middle of a byte, and one of a newer program are told", async () => {
  fs.writeFileSync(place("text"), "hello");
  fs.writeFileSync(place("half"), fs.readFileSync(place("whole")).subarray(0, 900));
  for (const name of ["text", "half"])
    await expect(restore(place(name), DB, true, AWAY_SECONDS)).rejects.toMatchObject({
      code: "backup-broken",
    });
  await expect(restore(place("not-there"), DB, true, AWAY_SECONDS)).rejects.toMatchObject({
    code: "backup-broken",
    message: expect.stringContaining("ENOENT") as string,
  });
  const newer = changed("newer", (lines) => [
    lines[0]!.replace('"schema":[', '"schema":["migrations/999_far.sql",'),
    ...lines.slice(1),
  ]);
  await expect(restore(newer, DB, true, AWAY_SECONDS)).rejects.toMatchObject({ code: "database-newer" });
});

/** The same rows as an earlier schema would have held them: tables and columns that it had. */
async function asOf(schema: readonly string[], name: string): Promise<string> {
  const { head } = await readBackup(place("whole"));
  const connection = await pool().getConnection();
  await write(connection, "SET SESSION foreign_key_checks = 0");
  await dropAll(connection);
  await applyFiles(connection, DB, schema);
  connection.destroy();
  const there = new Map<string, Set<string>>();
  for (const { t, c } of await rows<{ t: string; c: string }>(
    pool(),
    "SELECT TABLE_NAME AS t, COLUMN_NAME AS c FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND IS_GENERATED = 'NEVER'",
  ))
    there.set(t, (there.get(t) ?? new Set()).add(c));
  const tables = head.tables
    .filter((table) => there.has(table.name))
    .map((table) => ({ ...table, columns: table.columns.filter((c) => there.get(table.name)!.has(c)) }));
  const sums = new Map(tables.map((table) => [table.name, new RowSum()]));
  const lines: unknown[] = [{ ...head, schema, tables }];
  await readBackup(place("whole"), ({ table, row: cells }) => {
    const at = tables.findIndex((one) => one.name === table.name);
    if (at < 0) return;
    const kept = tables[at]!.columns.map((column) => cells[table.columns.indexOf(column)]!);
    lines.push([at, ...sums.get(table.name)!.add(kept)]);
  });
  lines.push({ end: Object.fromEntries([...sums].map(([table, sum]) => [table, sum.end()])) });
  const file = place(name);
  fs.writeFileSync(file, zlib.gzipSync(lines.map((line) => JSON.stringify(line)).join("\n")));
  return file;
}

const columnsNow = async (): Promise<readonly string[]> =>
  (
    await rows<Record<string, unknown>>(
      pool(),
      `SELECT TABLE_NAME, COLUMN_NAME, COLUMN_TYPE, IS_NULLABLE, COLUMN_DEFAULT
        FROM information_schema.COLUMNS
        WHERE TABLE_SCHEMA = DATABASE()`,
    )
  )
    .map((column) => JSON.stringify(column))
    .sort();

test("a backup of every earlier schema comes back, and is brought up to date with its rows", async () => {
  const files = await sqlFiles(DB);
  const first = files.filter((name) => name.startsWith("schema/")).length;
  const columns = await columnsNow();
  expect(files.length).toBeGreaterThan(first + 30);
  for (let count = first; count < files.length; count++) {
    const file = await asOf(files.slice(0, count), `as-of-${count}`);
    const restored = await restore(file, DB, true, AWAY_SECONDS);
    expect(restored.applied).toEqual(files.slice(count));
    expect(await columnsNow()).toEqual(columns);
    expect((await loadSequence(sequenceId)).files.map(({ frame }) => frame)).toEqual([1, 2, 3, 4]);
  }
  expect(await migrate(pool(), DB)).toEqual([]);
});
