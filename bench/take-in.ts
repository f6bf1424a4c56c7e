/** 100,000 files of a folder listed and grouped into sequences, against `find` that prints path, size and time of each. */
import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { median } from "@/core/many";
import { proposeSequences } from "@/core/naming/proposals";
import { listFoldersBelow } from "@/server/files/folders-below";
import { type Measured, rounded } from "./measured";

const [FOLDERS, FILES] = [10, 10_000];
const ROUNDS = 9;

function fill(top: string): void {
  for (let folder = 0; folder < FOLDERS; folder++) {
    const place = path.join(top, `s${folder}`);
    fs.mkdirSync(place);
    for (let i = 0; i < FILES; i++)
      fs.writeFileSync(path.join(place, `quay_s${folder}.${String(i).padStart(5, "0")}.png`), "x");
  }
}

/** In milliseconds. */
async function timed(work: () => unknown): Promise<number> {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

export async function takeIn(): Promise<Measured> {
  const top = fs.mkdtempSync(path.join(os.tmpdir(), "plain-tally-bench-"));
  try {
    fill(top);
    const [ours, theirs]: [number[], number[]] = [[], []];
    for (let round = 0; round < ROUNDS; round++) {
      theirs.push(
        await timed(() => execFileSync("find", [top, "-printf", "%p %s %T@\n"], { maxBuffer: 1 << 30 })),
      );
      ours.push(
        await timed(async () => {
          const { sequences } = proposeSequences((await listFoldersBelow(top, { isAlone: true })).folders);
          if (sequences.length !== FOLDERS) throw new Error(`${sequences.length} sequences were found`);
        }),
      );
    }
    const [value, yardstick] = [median(ours), median(theirs)];
    return {
      name: "take-in",
      value: rounded(value),
      unit: "ms",
      yardstick: rounded(yardstick),
      ratio: rounded(value / yardstick),
      goal: "100,000 files listed and grouped in at most twice the time of find",
      holds: value / yardstick <= 2,
    };
  } finally {
    fs.rmSync(top, { recursive: true, force: true });
  }
}
