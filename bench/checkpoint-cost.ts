/**
 * What saving the samples of a full HD frame with alpha and all passes costs of its render time, at the
 * interval that plans begin with. The render rests while it saves.
 */
import { median } from "@/core/many";
import fs from "node:fs/promises";
import path from "node:path";
import { CHECKPOINT_FORMAT } from "@/contract/checkpoint";
import { USUAL_CHECKPOINTS } from "@/core/plan/checkpoint-rule";
import { arraysOf, makeSums } from "@/render/frame-sums";
import { writeCheckpoint } from "@/server/files/checkpoint-file";
import { type Measured, rounded } from "./measured";

const [WIDTH, HEIGHT] = [1920, 1080];
const TIMES = 5;
const LIMIT_PERCENT = 3;

async function secondsEach(times: number, work: () => Promise<unknown>): Promise<number[]> {
  const seconds: number[] = [];
  for (let i = 0; i < times; i++) {
    const began = performance.now();
    await work();
    seconds.push((performance.now() - began) / 1000);
  }
  return seconds;
}

export async function checkpointCost(home: string): Promise<Measured> {
  const folder = await fs.mkdtemp(path.join(home, "var/checkpoint-cost-"));
  try {
    const sums = makeSums(WIDTH, HEIGHT, { cover: true, layers: true });
    for (const array of arraysOf(sums)) for (let i = 0; i < array.length; i++) array[i] = (i * 0.618) % 7;
    const header = {
      format: CHECKPOINT_FORMAT,
      version: "v001",
      camera: "main",
      frame: 1,
      attempt: 1,
      node: "bench",
      width: WIDTH,
      height: HEIGHT,
      exposure: 1,
      cursor: { region: 0, goal: 64, row: 10 },
      samples: 60,
      share: 0.5,
      seconds: 300,
      look: {},
      effort: {},
      layers: true,
      cover: true,
    } as const;
    let bytes = 0;
    const save = median(
      await secondsEach(
        TIMES,
        async () => (bytes = await writeCheckpoint(path.join(folder, "checkpoint"), header, sums)),
      ),
    );
    const plain = Buffer.alloc(bytes, 7);
    const write = median(
      await secondsEach(TIMES, async () => {
        const handle = await fs.open(path.join(folder, "plain"), "w");
        await handle.writeFile(plain);
        await handle.sync();
        await handle.close();
      }),
    );
    const percent = (seconds: number): number => (seconds / (USUAL_CHECKPOINTS.minutes * 60)) * 100;
    return {
      name: "checkpoint-cost",
      value: rounded(percent(save)),
      unit: "%",
      yardstick: rounded(percent(write)),
      ratio: rounded(save / write),
      goal: `saving ${Math.round(bytes / 1e6)} MB every ${USUAL_CHECKPOINTS.minutes} min takes under ${LIMIT_PERCENT} % of the render time (measured ${save.toFixed(2)} s a save; yardstick: writing and flushing as many plain bytes)`,
      holds: percent(save) < LIMIT_PERCENT,
    };
  } finally {
    await fs.rm(folder, { recursive: true, force: true });
  }
}
