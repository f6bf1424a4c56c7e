/**
 * The first HTML of the demo's ledger and of HL010, with all their facts, from a server that has nothing else
 * to do.
 */
import { median } from "@/core/many";
import fs from "node:fs/promises";
import path from "node:path";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { padFrame } from "@/core/naming/pattern";
import { PROJECT, SHOTS } from "@/demo/project";
import { seed } from "@/demo/seed";
import { migrate } from "@/server/db/migrate";
import { pool } from "@/server/db/pool";
import { imageTools } from "@/server/files/image-tools";
import { type Measured, rounded } from "./measured";
import { emptyRoot, until } from "./real-run";
import { withServer } from "./real-server";

const TIMES = 25;
const LIMIT_MS = 150;

/** Files of every frame of a shot, as its plan asks for them. */
async function layFrames(root: string): Promise<void> {
  const { code, first, last, plan } = SHOTS.find((s) => s.code === "HL010")!;
  const folder = path.join(root, PROJECT.folder, code, "v001/main/beauty");
  await fs.mkdir(folder, { recursive: true });
  for (let frame = first; frame <= last; frame++) {
    const pixels = new Uint8Array(plan.width * plan.height * 3).fill((frame * 37) & 255);
    await fs.writeFile(
      path.join(folder, `${code}_beauty.${padFrame(frame, 4)}.png`),
      writePng(rgb8(plan.width, plan.height, pixels), {}, imageTools),
    );
  }
}

async function timeGet(address: string, holds: string): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < TIMES; i++) {
    const began = performance.now();
    const text = await (await fetch(address)).text();
    times.push(performance.now() - began);
    if (!text.includes(holds)) throw new Error(`${address} does not hold "${holds}".`);
  }
  return median(times);
}

export async function firstPage(home: string): Promise<Measured> {
  const root = await emptyRoot(home);
  await migrate(pool(), path.join(home, "db"));
  await seed({ hasItsNodes: true });
  await layFrames(root);
  return withServer(home, async ({ address }) => {
    const ledger = `${address}/p/${PROJECT.slug}`;
    const shot = `${ledger}/shots/HL010`;
    try {
      // The folder watch reads the files first.
      await until("the files are counted", async () =>
        (await (await fetch(shot)).text()).includes("All 96 good"),
      );
      const yardstick = await timeGet(`${address}/api/health`, "ok");
      const [ofLedger, ofShot] = [await timeGet(ledger, "HL040"), await timeGet(shot, "All 96 good")];
      const value = Math.max(ofLedger, ofShot);
      return {
        name: "first-page",
        value: rounded(value),
        unit: "ms",
        yardstick: rounded(yardstick),
        ratio: rounded(value / yardstick),
        goal: `the first HTML of the ledger (measured ${rounded(ofLedger)}) and of HL010 (measured ${rounded(ofShot)}) in under ${LIMIT_MS} ms each; the yardstick is the health route`,
        holds: value < LIMIT_MS,
      };
    } finally {
      await fs.rm(root, { recursive: true, force: true, maxRetries: 5 });
    }
  });
}
