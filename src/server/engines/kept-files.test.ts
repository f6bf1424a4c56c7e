import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { clearCallFolder, isMeant, noteKept } from "./kept-files";

test.each([
  ["stats.json", "stats.json", true],
  ["stats.json", "stats", false],
  ["a.log", "*.log", true],
  ["a.log.gz", "*.log", false],
  ["frame.0001.stats.txt", "frame.*.stats.*", true],
  ["frame.stats", "frame.*.stats", false],
  ["aba", "ab*ba", false],
  ["anything", "*", true],
  ["axbxc", "a*b*c", true],
  ["axcxb", "a*b*c", false],
])("%s against %s: %p", (name, pattern, meant) => expect(isMeant(name, pattern)).toBe(meant));

test("many stars cost no more than the name's length", () =>
  expect(isMeant("a".repeat(250), `${"*a".repeat(200)}*b`)).toBe(false));

describe("the folder of a call that is over", () => {
  let root: string;
  let call: string;
  beforeEach(() => {
    root = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-kept-"));
    call = path.join(root, "call");
    fs.mkdirSync(call);
    for (const name of ["a.log", "b.log", "frame.0001.png"]) fs.writeFileSync(path.join(call, name), name);
  });
  afterEach(() => fs.rmSync(root, { recursive: true }));

  test("is removed; what was to be kept lies where the note says, and nothing else", async () => {
    fs.symlinkSync("/etc/hostname", path.join(call, "link.log"));
    fs.mkdirSync(path.join(call, "folder.log"));
    noteKept(call, { names: ["*.log"], folder: path.join(root, "kept/main/000001") });
    await clearCallFolder(call);
    expect([fs.existsSync(call), fs.readdirSync(path.join(root, "kept/main/000001"))]).toEqual([
      false,
      ["a.log", "b.log"],
    ]);
  });

  test("is removed where nothing is to be kept, where the note is broken, and where it cannot be kept", async () => {
    await clearCallFolder(call);
    expect(fs.existsSync(call)).toBe(false);
    fs.mkdirSync(call);
    fs.writeFileSync(path.join(call, ".plain-tally-kept.json"), "{");
    await clearCallFolder(call);
    expect(fs.existsSync(call)).toBe(false);
    fs.mkdirSync(call);
    fs.writeFileSync(path.join(call, "a.log"), "a");
    noteKept(call, { names: ["*"], folder: path.join(call, "a.log/kept") });
    await expect(clearCallFolder(call)).rejects.toThrow();
    expect(fs.existsSync(call)).toBe(false);
  });
});
