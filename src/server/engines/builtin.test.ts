import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import { existsSync } from "node:fs";
import { setTimeout as pause } from "node:timers/promises";
import { BuiltinEngine } from "./builtin";
import type { EngineHooks, FrameJob } from "./engine";

/** A child that hangs up when it is given a frame, as one that was just killed, and ends a moment later. */
const hangsUp = (told: string): string => `
import fs from "node:fs";
process.on("message", () => setImmediate(() => {
  process.disconnect();
  fs.writeFileSync(${JSON.stringify(told)}, "");
  setTimeout(() => process.exit(3), 300);
}));
`;

const nothing = (): undefined => undefined;
const HOOKS: EngineHooks = {
  progress: nothing,
  log: nothing,
  checkpoint: nothing,
  preview: nothing,
  noRoom: nothing,
};

test("a stop that meets a renderer that has just gone fails the frame, and not the node", async () => {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-engine-"));
  const entry = path.join(folder, "child.mjs");
  const told = path.join(folder, "hung-up");
  await fs.writeFile(entry, hangsUp(told));
  const engine = new BuiltinEngine(entry);
  const stop = new AbortController();
  const over = engine
    .render({} as FrameJob, HOOKS, new AbortController().signal, stop.signal)
    .catch((error: unknown) => error);
  while (!existsSync(told)) await pause(10);
  stop.abort();
  expect(await over).toMatchObject({ code: "engine-died" });
  await fs.rm(folder, { recursive: true });
});

test("a child that cannot be started fails the frame, and the next one is tried with another", async () => {
  const engine = new BuiltinEngine("/nowhere/child.mjs");
  const quiet = new AbortController().signal;
  const program = process.execPath;
  process.execPath = "/nowhere/node";
  try {
    for (const _frame of [1, 2])
      await expect(engine.render({} as FrameJob, HOOKS, quiet, quiet)).rejects.toMatchObject({
        code: "engine-died",
      });
  } finally {
    process.execPath = program;
  }
});
