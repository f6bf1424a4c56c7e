import { answerOf, connect } from "@/server/db/connection";
import { closePool, makePool, pool, transact } from "@/server/db/pool";
import { fromJson, row, rows, valuesList, write } from "@/server/db/rows";
import { openStage, type Stage } from "../support/stage";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
  await write(pool(), "CREATE TABLE pair (id INT PRIMARY KEY, n INT NOT NULL) ENGINE=InnoDB");
  await write(pool(), "INSERT INTO pair VALUES (1, 0), (2, 0)");
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const values = async (): Promise<number[]> =>
  (await rows<{ n: number }>(pool(), "SELECT n FROM pair ORDER BY id")).map((r) => r.n);

test("two transactions that lock crosswise both come through: the one that was undone is run again, whole", async () => {
  let tries = 0;
  let open = 0;
  let bothHold: () => void;
  const bothHoldOne = new Promise<void>((resolve) => (bothHold = resolve));
  const crossing = (first: number, second: number) =>
    transact(async (tx) => {
      tries++;
      await write(tx, "UPDATE pair SET n = n + 1 WHERE id = ?", [first]);
      if (++open === 2) bothHold();
      await bothHoldOne;
      await write(tx, "UPDATE pair SET n = n + 1 WHERE id = ?", [second]);
    });
  await Promise.all([crossing(1, 2), crossing(2, 1)]);
  expect(await values()).toEqual([2, 2]);
  expect(tries).toBe(3);
});

test("a statement of its own waits out a lock that is held longer than one wait", async () => {
  const other = makePool(stage.env.PLAIN_TALLY_DATABASE_URL!, 1);
  let waiting: Promise<unknown> | undefined;
  await transact(async (tx) => {
    await write(tx, "UPDATE pair SET n = 40 WHERE id = 1");
    waiting = write(pool(), "UPDATE pair SET n = n + 1 WHERE id = 1");
    // By the database's clock, longer than it lets a statement wait for a lock.
    await row(tx, "SELECT SLEEP(@@innodb_lock_wait_timeout + 1)");
  }, other);
  await waiting;
  expect((await values())[0]).toBe(41);
  await other.end();
});

test("a database that says nothing is told as away, and its connection is not used again", async () => {
  const one = makePool(stage.env.PLAIN_TALLY_DATABASE_URL!, 1);
  const connection = await connect(one);
  const asked = answerOf(connection, connection.query("SELECT SLEEP(60)"), 50);
  await expect(asked).rejects.toMatchObject({ name: "DatabaseAway", isBusy: false });
  connection.release();
  expect(await row(one, "SELECT 7 AS n")).toEqual({ n: 7 });
  // All connections are in use: whoever wants one is told so.
  const held = await connect(one);
  await expect(connect(one, 50)).rejects.toMatchObject({ name: "DatabaseAway" });
  held.release();
  expect(await row(one, "SELECT 8 AS n")).toEqual({ n: 8 });
  await one.end();
});

test("what throws is rolled back, and its connection is good for the next", async () => {
  const one = makePool(stage.env.PLAIN_TALLY_DATABASE_URL!, 1);
  const before = await values();
  await expect(
    transact(async (tx) => {
      await write(tx, "UPDATE pair SET n = 99");
      throw new Error("changed my mind");
    }, one),
  ).rejects.toThrow("changed my mind");
  expect(await values()).toEqual(before);
  expect(await transact((tx) => row<{ n: number }>(tx, "SELECT 7 AS n"), one)).toEqual({ n: 7 });
  await one.end();
});

test("a write tells how many rows it matched, also when it changed none: a fence can be trusted", async () => {
  await write(pool(), "UPDATE pair SET n = 5");
  expect((await write(pool(), "UPDATE pair SET n = 5 WHERE id = 1")).matched).toBe(1);
  expect((await write(pool(), "UPDATE pair SET n = 5 WHERE id = 77")).matched).toBe(0);
});

test("a list of rows becomes placeholders and one flat list of values", () => {
  expect(
    valuesList([
      [1, "a"],
      [2, null],
    ]),
  ).toEqual({ sql: "(?, ?), (?, ?)", params: [1, "a", 2, null] });
});

test("JSON is read from text as from a value", () =>
  expect([fromJson<number[]>("[1,2]"), fromJson<number[]>([1, 2])]).toEqual([
    [1, 2],
    [1, 2],
  ]));

test("every session is in UTC and cuts a transaction that sleeps", async () => {
  expect(
    await row(
      pool(),
      `SELECT @@session.time_zone AS zone, @@session.idle_transaction_timeout AS idle,
          @@session.idle_write_transaction_timeout AS idleWrite`,
    ),
  ).toEqual({ zone: "+00:00", idle: 10, idleWrite: 10 });
});
