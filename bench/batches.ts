/**
 * Three nodes with a program that takes 3 s to start and 0.3 s a frame, on 120 frames, against the best
 * schedule there is: three calls at once, each for a third of the frames.
 */
import { spawn } from "node:child_process";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import type { Configuration } from "@/contract/configuration";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { imageTools } from "@/server/files/image-tools";
import { pool } from "@/server/db/pool";
import { startRun } from "@/server/actions/start-run";
import { runById, type RunRow } from "@/server/store/runs";
import { type Measured, rounded } from "./measured";
import { until, withRealRun } from "./real-run";

const [NODES, FRAMES, STARTUP_SECONDS, FRAME_SECONDS] = [3, 120, 3, 0.3];
const SIZE = { width: 64, height: 36 };
const LIMIT = 1.3;

/** Arguments: a picture to copy, frames as a phrase of plain runs, the name of the output. */
const PROGRAM = `
const fs = require("fs");
const [picture, phrase, output] = process.argv.slice(2);
const frames = phrase.split(",").flatMap((run) => {
  const [first, last = first] = run.split("-").map(Number);
  return Array.from({ length: last - first + 1 }, (_, i) => first + i);
});
const wait = (seconds) => new Promise((resolve) => setTimeout(resolve, seconds * 1000));
(async () => {
  await wait(${STARTUP_SECONDS});
  for (const frame of frames) {
    await wait(${FRAME_SECONDS});
    const file = output.replace("####", String(frame).padStart(4, "0"));
    fs.copyFileSync(picture, file + ".new");
    fs.renameSync(file + ".new", file);
  }
})();
`;

/** Seconds until all calls have ended. */
async function calledByHand(program: string, picture: string, folder: string): Promise<number> {
  const began = performance.now();
  const each = FRAMES / NODES;
  await Promise.all(
    Array.from({ length: NODES }, async (_, i) => {
      const phrase = `${1 + i * each}-${(i + 1) * each}`;
      const child = spawn(
        process.execPath,
        [program, picture, phrase, path.join(folder, `by-hand.####.png`)],
        { stdio: "ignore" },
      );
      await new Promise((resolve) => child.once("exit", resolve));
    }),
  );
  return (performance.now() - began) / 1000;
}

/** From the first lease to the end, by the database's clock. */
const secondsOf = ({ createdAt, endedAt }: RunRow): number =>
  (endedAt!.getTime() - createdAt.getTime()) / 1000;

export async function batches(home: string): Promise<Measured> {
  const folder = await fs.mkdtemp(path.join(os.tmpdir(), "plain-tally-bench-"));
  const picture = path.join(folder, "picture.png");
  await fs.writeFile(
    picture,
    writePng(rgb8(SIZE.width, SIZE.height, new Uint8Array(SIZE.width * SIZE.height * 3)), {}, imageTools),
  );
  const program = path.join(folder, "program.cjs");
  await fs.writeFile(program, PROGRAM);
  const call = [program, picture, "{frames}", "{output}"];
  const configuration: Configuration = {
    renderers: { patient: { program: process.execPath, arguments: call, batch: call } },
  };
  const file = path.join(folder, "configuration.json");
  await fs.writeFile(file, JSON.stringify(configuration));
  process.env.PLAIN_TALLY_CONFIG = file;
  try {
    const plan = { renderer: "patient", frames: `1-${FRAMES}`, ...SIZE, alpha: "none" } as const;
    const seconds = await withRealRun(home, plan, async ({ sequenceId, startNode }) => {
      for (let i = 1; i <= NODES; i++) await startNode(`bench-${i}`);
      const { runId } = await startRun({
        ...{ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" },
      });
      await until("the run is done", async () => (await runById(pool(), runId))?.state === "done");
      return secondsOf((await runById(pool(), runId))!);
    });
    const best = await calledByHand(program, picture, folder);
    return {
      name: "batches",
      value: rounded(seconds),
      unit: "s",
      yardstick: rounded(best),
      ratio: rounded(seconds / best),
      goal: `${NODES} nodes, ${STARTUP_SECONDS} s start-up, ${FRAME_SECONDS} s a frame, ${FRAMES} frames: within ${LIMIT} x of ${NODES} calls by hand for a third each (the yardstick)`,
      holds: seconds / best <= LIMIT,
    };
  } finally {
    await fs.rm(folder, { recursive: true, force: true });
  }
}
