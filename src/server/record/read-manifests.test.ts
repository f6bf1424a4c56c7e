import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { manifestFile } from "../files/layout";
import { readManifests } from "./read-manifests";

let version: string;
beforeEach(async () => {
  version = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-manifests-"));
});
afterEach(() => fs.rm(version, { recursive: true, force: true }));

const LINE = {
  ...{ frame: 7, camera: "main", pass: "beauty", attempt: 3 },
  seconds: { startup: 1, light: 0, render: 2.5, denoise: 0, write: 0.5 },
};
async function lay(node: string, ...lines: unknown[]): Promise<void> {
  const file = manifestFile(version, node);
  await fs.mkdir(path.dirname(file), { recursive: true });
  await fs.writeFile(
    file,
    lines.map((line) => (typeof line === "string" ? line : JSON.stringify(line))).join("\n"),
  );
}

test("each node's lines say which frames it made, and how long that took in all", async () => {
  await lay("quay-1", LINE);
  await lay("quay-2", { ...LINE, frame: 8, attempt: 4 });
  const made = { camera: "main", pass: "beauty", seconds: 4 };
  expect(await readManifests(version)).toEqual([
    { ...made, node: "quay-1", frame: 7, attempt: 3 },
    { ...made, node: "quay-2", frame: 8, attempt: 4 },
  ]);
});

test("a version without manifests has made nothing", async () => {
  expect(await readManifests(version)).toEqual([]);
});

test("what no node has written is left out: half a line, other things, times without end, names that no node has", async () => {
  await lay(
    "quay-1",
    '{"frame":7,',
    "[]",
    { ...LINE, frame: "7" },
    { ...LINE, attempt: 1e300 },
    { ...LINE, seconds: null },
    '{"frame":7,"camera":"main","pass":"beauty","attempt":3,"seconds":{"render":1e999}}',
  );
  await lay("n".repeat(90), LINE);
  await lay("record-machine", '{"whole":1}');
  expect(await readManifests(version)).toEqual([]);
});
