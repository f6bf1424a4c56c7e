import { execFileSync } from "node:child_process";
import fs from "node:fs/promises";
import net from "node:net";
import os from "node:os";
import path from "node:path";
import { readRegular } from "./read-regular";

let folder: string;
beforeEach(async () => {
  folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-regular-"));
});
afterEach(() => fs.rm(folder, { recursive: true }));

test("a file is read, also through a link", async () => {
  await fs.writeFile(path.join(folder, "a"), "abc");
  await fs.symlink("a", path.join(folder, "b"));
  for (const name of ["a", "b"]) expect((await readRegular(path.join(folder, name))).toString()).toBe("abc");
});

test("what is not there is told as the system tells it", () =>
  expect(readRegular(path.join(folder, "none"))).rejects.toMatchObject({ code: "ENOENT" }));

test("a pipe is not waited for, a device not read without end, a folder and a socket are no files", async () => {
  const pipe = path.join(folder, "A.0001.png");
  execFileSync("mkfifo", [pipe]);
  const socket = path.join(folder, "A.0002.png");
  const server = net.createServer().listen(socket);
  await new Promise((resolve) => server.once("listening", resolve));
  for (const file of [pipe, socket, "/dev/zero", folder])
    await expect(readRegular(file)).rejects.toMatchObject({ code: "EINVAL" });
  await new Promise((resolve) => server.close(resolve));
});
