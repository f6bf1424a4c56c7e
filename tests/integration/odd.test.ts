/** `check --odd`: a folder of any program's frames, measured and compared, without a database. */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { runCli } from "../support/stage";
import { layWandering } from "../support/wandering-pictures";

let folder: string;
beforeAll(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-odd-"));
  await layWandering(
    folder,
    Array.from({ length: 24 }, (_, i) => i + 1),
    (frame) => `quay_${String(frame).padStart(3, "0")}.png`,
    { 7: { gain: 1.3 }, 13: { isPatched: true }, 20: 19 },
  );
});
afterAll(() => fs.rm(folder, { recursive: true, force: true }));

interface Told {
  readonly path: string;
  readonly measures?: Readonly<Record<string, number | null>>;
  readonly odd?: readonly {
    readonly code: string;
    readonly region: readonly number[] | null;
    readonly sentence: string;
  }[];
}

test("every file has its measures, odd ones say what, where and why, and the exit is 1", async () => {
  const ended = await runCli(["check", folder, "--deep", "--odd", "--json"]);
  const told = JSON.parse(ended.stdout) as readonly Told[];
  expect([ended.code, told.length]).toEqual([1, 24]);
  for (const { measures } of told)
    expect(Object.keys(measures!)).toEqual(
      expect.arrayContaining(["luminance", "noise", "black", "clipped", "hot", "nan", "alpha"]),
    );
  const odd = Object.fromEntries(
    told.filter((one) => one.odd!.length > 0).map((one) => [path.basename(one.path), one.odd!]),
  );
  expect(Object.keys(odd)).toEqual(["quay_007.png", "quay_013.png", "quay_020.png"]);
  expect(odd["quay_007.png"]!.map(({ code }) => code)).toContain("pop");
  expect(odd["quay_013.png"]).toMatchObject([{ code: "flicker", region: [32, 16, 32, 16] }]);
  expect(odd["quay_020.png"]).toMatchObject([{ code: "frozen", region: null }]);
});

test("in words each is a line, and the last one counts; without --odd nothing is measured", async () => {
  const ended = await runCli(["check", folder, "--odd"]);
  expect(ended.stdout).toMatch(
    /quay_013\.png: odd \(flicker\): A part of it, 32 x 16 at 32, 16, changes by /,
  );
  expect(ended.stdout.trim().split("\n").at(-1)).toBe("24 files looked at, 0 damaged, 3 odd.");
  const plain = await runCli(["check", folder, "--json"]);
  expect([plain.code, plain.stdout.includes("measures")]).toEqual([0, false]);
});

test("a damaged file among them is told as such, and the others are compared all the same", async () => {
  const file = path.join(folder, "quay_003.png");
  const bytes = await fs.readFile(file);
  await fs.writeFile(file, bytes.subarray(0, bytes.length - 300));
  const ended = await runCli(["check", folder, "--odd"]);
  expect(ended.stdout).toMatch(/quay_003\.png: damaged/);
  expect(ended.stdout.trim().split("\n").at(-1)).toBe("24 files looked at, 1 damaged, 3 odd.");
});
