/** What is let in fits where it is kept: no bound is wider than its column. */
import { BOUNDS } from "@/contract/bounds";
import { closePool, pool } from "@/server/db/pool";
import { rows } from "@/server/db/rows";
import { openStage, type Stage } from "../support/stage";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const COLUMNS: readonly (readonly [table: string, column: string, bound: keyof typeof BOUNDS])[] = [
  ["project", "slug", "projectName"],
  ["project", "root", "declaredName"],
  ["project", "title", "title"],
  ["shot", "code", "shotCode"],
  ["shot", "title", "title"],
  ["sequence", "camera", "cameraName"],
  ["node", "name", "nodeName"],
  ["preset", "name", "presetName"],
  ["run_share", "machine", "machineName"],
  ["finding", "text", "reason"],
  ["run", "wanted", "phrase"],
  ["run_share", "frames", "sharePhrase"],
];

test("a text as long as its bound fits its column", async () => {
  const columns = await rows<{ place: string; longest: number }>(
    pool(),
    `SELECT CONCAT(table_name, '.', column_name) AS place, character_maximum_length AS longest
      FROM information_schema.columns
      WHERE table_schema = DATABASE() AND character_maximum_length IS NOT NULL`,
  );
  expect(columns.length).toBeGreaterThan(20);
  const longest = new Map(columns.map((c) => [c.place, Number(c.longest)]));
  for (const [table, column, bound] of COLUMNS)
    expect([`${table}.${column}`, longest.get(`${table}.${column}`)! >= BOUNDS[bound]]).toEqual([
      `${table}.${column}`,
      true,
    ]);
});

test("numbers of frames and ids fit theirs", async () => {
  const columns = await rows<{ place: string; type: string }>(
    pool(),
    `SELECT CONCAT(table_name, '.', column_name) AS place, column_type AS type
      FROM information_schema.columns
      WHERE table_schema = DATABASE() AND column_name IN ('frame', 'first_frame', 'last_frame', 'id')`,
  );
  const frames = columns.filter((c) => c.place.endsWith("frame"));
  expect(frames.length).toBeGreaterThan(5);
  expect([...new Set(frames.map((c) => c.type.replace(/\(\d+\)/, "")))]).toEqual(["int"]);
  expect(BOUNDS.frame).toBeLessThanOrEqual(2 ** 31 - 1);
  expect(BOUNDS.id).toBe(2 ** 32 - 1);
});
