/** What another renderer keeps, written as one file and put back; every way in which that file may be wrong. */
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { CHECKPOINT_FORMAT, type CheckpointHeader } from "@/contract/checkpoint";
import { readCheckpoint, readHeaderOf } from "./checkpoint-file";
import { readStateHeader, unpackStateFile, writeStateFile } from "./state-file";

const header: Omit<CheckpointHeader, "files"> = {
  format: CHECKPOINT_FORMAT,
  version: "v001",
  camera: "quay",
  frame: 7,
  attempt: 3,
  node: "barge",
  width: 64,
  height: 36,
  exposure: 1,
  cursor: { region: 0, goal: 1, row: 0 },
  samples: 5,
  share: 0.5,
  seconds: 12,
  look: {},
  effort: {},
  layers: true,
  cover: true,
};

let folder: string;
let file: string;
beforeEach(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-state-"));
  file = path.join(folder, "000007.checkpoint");
  await fs.mkdir(path.join(folder, "call"));
  await fs.mkdir(path.join(folder, "next"));
  await fs.writeFile(path.join(folder, "call/a.state"), Buffer.alloc(3_000_000, 7));
  await fs.writeFile(path.join(folder, "call/empty.state"), "");
});
afterEach(() => fs.rm(folder, { recursive: true }));

const write = () => writeStateFile(file, header, path.join(folder, "call"), ["empty.state", "a.state"]);
const unpack = async () => {
  const read = await readStateHeader(file);
  return typeof read === "string" ? read : unpackStateFile(file, read, path.join(folder, "next"));
};

test("every file comes back as it was, and the folder's watch reads the header as it reads ours", async () => {
  const written = (await write())!;
  expect((await fs.stat(file)).size).toBe(written.bytes);
  expect(await unpack()).toBe(true);
  expect((await fs.readdir(path.join(folder, "next"))).sort()).toEqual(["a.state", "empty.state"]);
  expect((await fs.readFile(path.join(folder, "next/a.state"))).equals(Buffer.alloc(3_000_000, 7))).toBe(
    true,
  );
  expect(await readHeaderOf(file)).toMatchObject({ frame: 7, samples: 5 });
  // Our own renderer does not take it for its sums.
  expect(await readCheckpoint(file)).toBeNull();
});

test.each([
  ["cut short", (bytes: Buffer) => bytes.subarray(0, -1), "damaged"],
  ["altered in its content", (bytes: Buffer) => ((bytes[bytes.length - 50]! ^= 1), bytes), false],
  ["altered in its header", (bytes: Buffer) => ((bytes[40]! ^= 1), bytes), "damaged"],
  ["none of ours", () => Buffer.from("hello"), "damaged"],
] as const)("a file that is %s is not used, and leaves nothing behind", async (_how, spoil, verdict) => {
  await write();
  await fs.writeFile(file, spoil(await fs.readFile(file)));
  const found = await unpack();
  expect(found).toBe(verdict);
  expect(await fs.readdir(path.join(folder, "next"))).toEqual([]);
});

test("where there is nothing to keep, nothing is written; what is not there is missing", async () => {
  expect(await writeStateFile(file, header, path.join(folder, "call"), [])).toBeNull();
  expect(await readStateHeader(path.join(folder, "nowhere"))).toBe("missing");
});
