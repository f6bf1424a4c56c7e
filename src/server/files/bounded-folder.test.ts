import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { keepNewest, markUsed } from "./bounded-folder";

let folder: string;
beforeEach(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-bounded-"));
  for (const [i, name] of ["a", "b", "c", "d"].entries()) {
    await fs.writeFile(path.join(folder, name), "x".repeat(100));
    await markUsed(path.join(folder, name), new Date(1_000_000 + i * 1_000));
  }
});
afterEach(() => fs.rm(folder, { recursive: true }));

test("what fits stays", async () => {
  expect(await keepNewest(folder, 400)).toBe(0);
  expect(await fs.readdir(folder)).toHaveLength(4);
});

test("what was used longest ago goes first, whenever it was made", async () => {
  await markUsed(path.join(folder, "a"), new Date(2_000_000));
  expect(await keepNewest(folder, 250)).toBe(2);
  expect((await fs.readdir(folder)).sort()).toEqual(["a", "d"]);
});

test("a file that is gone is marked without a fault", () => markUsed(path.join(folder, "z"), new Date()));
