import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { insideFolder } from "./paths";

let root: string;
beforeAll(async () => {
  root = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-paths-"));
  await fs.mkdir(path.join(root, "film/scenes"), { recursive: true });
  await fs.writeFile(path.join(root, "secret.txt"), "");
  await fs.symlink("../secret.txt", path.join(root, "film/leak.txt"));
  await fs.symlink("..", path.join(root, "film/up"));
  await fs.symlink("scenes", path.join(root, "film/inner"));
});
afterAll(() => fs.rm(root, { recursive: true, force: true }));

const film = (): string => path.join(root, "film");

test.each([
  "scenes",
  "scenes/a.json",
  "not/there/yet/a.json",
  "scenes/../scenes/a.json",
  "inner/a.json",
  ".",
])("%p stays inside", async (relative) =>
  expect(await insideFolder(film(), relative)).toBe(path.resolve(film(), relative)),
);

test.each([
  "..",
  "../secret.txt",
  "scenes/../../secret.txt",
  "/etc/hostname",
  "leak.txt",
  "up/secret.txt",
  "up/not/there",
  "a\0b",
])("%p leads out and is refused", async (relative) => {
  await expect(insideFolder(film(), relative)).rejects.toMatchObject({ code: "path-outside-root" });
});

test("a folder whose name begins like the root's is not inside it", async () => {
  await fs.mkdir(path.join(root, "film-two"));
  await expect(insideFolder(film(), "../film-two")).rejects.toMatchObject({ code: "path-outside-root" });
});
