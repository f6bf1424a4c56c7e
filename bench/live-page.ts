/**
 * The page of a shot of 100,000 frames while stand-in clients make 20 of them a second, through leases,
 * files and news as real nodes do: how far the page lags behind, how soon a Stop acts, and how much of
 * a core the server uses.
 */
import { median } from "@/core/many";
import { type ChildProcess } from "node:child_process";
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import { chromium, type Page } from "@playwright/test";
import { rgb8 } from "@/core/image/pixels";
import { writePng } from "@/core/image/png-write";
import { makeLarge } from "@/demo/large";
import { migrate } from "@/server/db/migrate";
import { pool } from "@/server/db/pool";
import type { Engine } from "@/server/engines/engine";
import { imageTools } from "@/server/files/image-tools";
import { nodeFaults } from "@/server/node/faults";
import { attemptFrame } from "@/server/node/frame-attempt";
import { describeLease } from "@/server/queue/leased-frame";
import { NodeQueue } from "@/server/queue/node-queue";
import { LEASE_SECONDS } from "@/server/queue/lease";
import { requireShot } from "@/server/store/find-shot";
import { currentSequence } from "@/server/views/current-sequence";
import { saveNode } from "@/server/store/nodes";
import { runById } from "@/server/store/runs";
import { startRun } from "@/server/actions/start-run";
import { LAUNCH } from "../scripts/lib/browser.mjs";
import { type Measured, rounded } from "./measured";
import { NOTHING } from "./queue-tools";
import { emptyRoot, until } from "./real-run";
import { withServer } from "./real-server";

const FRAMES = 100_000;
const SHOT = `open-sea/LONG${FRAMES}`;
/** As the plan of the large shot has them. */
const [WIDTH, HEIGHT] = [96, 54];
const CLIENTS = 8;
const FRAMES_A_SECOND = 20;
const SECONDS = 60;
const LOOK_MS = 200;
const LAG_LIMIT_MS = 1_000;
const STOP_LIMIT_MS = 1_000;
const CORE_LIMIT = 0.5;
/** Of a processor's time as the system counts it. */
const TICKS_A_SECOND = 100;

/** Leaves a prepared picture at once. */
function standInEngine(picture: Uint8Array): Engine {
  return {
    name: "stand-in",
    render: async (job) => {
      await fs.writeFile(job.passes[0]!.output, picture);
      return {
        kind: "done",
        saved: null,
        output: {
          ...NOTHING,
          cpuSeconds: 0,
          batchStartupSeconds: 0,
          passes: [{ pass: "beauty", luminance: 0.5, noise: 0 }],
        },
      };
    },
    setNice: () => undefined,
    memoryMb: () => null,
    close: () => undefined,
  };
}

/** Makes frames at an even pace until told to stop. @param made hears each when it is in its place */
async function makeFrames(picture: Uint8Array, stop: AbortSignal, made: () => void): Promise<void> {
  const signals = { abort: new AbortController().signal, stop: new AbortController().signal };
  let turn = 0;
  const began = performance.now();
  const client = async (name: string): Promise<void> => {
    const id = await saveNode(pool(), {
      name,
      host: "here",
      processors: null,
      pid: process.pid,
      session: name,
    });
    const queue = new NodeQueue(
      pool(),
      { id, name },
      {
        leaseSeconds: LEASE_SECONDS,
        isReady: () => Promise.resolve(true),
        paceOf: () => ({ startupSeconds: 0, frameSeconds: 0 }),
        takesSeveral: () => Promise.resolve(false),
      },
    );
    const engine = standInEngine(picture);
    while (!stop.aborted) {
      await pause(Math.max(0, began + (turn++ * 1000) / FRAMES_A_SECOND - performance.now()));
      const lease = await queue.claim();
      if (lease === null) continue;
      await attemptFrame(
        {
          pool: pool(),
          engine,
          name,
          faults: nodeFaults({ hide: [] }),
          count: 1,
          upcoming: [],
          log: () => undefined,
          whileAway: (work) => work(),
          onProgress: () => undefined,
          onPreview: () => undefined,
          onNoRoom: () => undefined,
          onHeard: () => undefined,
          onOver: () => undefined,
          failure: () => null,
          proveReady: () => Promise.resolve(true),
        },
        await describeLease(pool(), lease),
        signals,
      );
      made();
    }
    await queue.release();
  };
  await Promise.all(Array.from({ length: CLIENTS }, (_, n) => client(`client-${n + 1}`)));
}

/** Processor seconds that a process has used. */
async function cpuSeconds({ pid }: ChildProcess): Promise<number> {
  const text = await fs.readFile(`/proc/${pid}/stat`, "utf8");
  // After the name, which may hold blanks: user time is the 12th, system time the 13th.
  const fields = text.slice(text.lastIndexOf(")") + 2).split(" ");
  return (Number(fields[11]) + Number(fields[12])) / TICKS_A_SECOND;
}

/** Good frames as the page says. The band is drawn from the same tally. */
const shownGood = (page: Page): Promise<number> =>
  page.evaluate(() => {
    const text = document.querySelector("[data-testid=sentence]")?.textContent ?? "";
    return Number((/([\d,]+) of [\d,]+ good/.exec(text)?.[1] ?? "0").replaceAll(",", ""));
  });

export async function livePage(home: string): Promise<Measured> {
  const root = await emptyRoot(home);
  await migrate(pool(), path.join(home, "db"));
  await makeLarge({ frames: FRAMES, shots: null });
  return withServer(home, async ({ address, process }) => {
    const browser = await chromium.launch(LAUNCH);
    const end = new AbortController();
    try {
      const { id: sequenceId } = (await currentSequence((await requireShot(SHOT)).shot.id))!;
      const { runId } = await startRun({
        sequenceId,
        phrase: "all",
        policy: "fill",
        nodes: null,
        scope: "version",
      });
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await page.goto(`${address}/p/open-sea/shots/LONG${FRAMES}`);
      await page.getByTestId("run-strip").waitFor();
      /** When each frame was in its place; the n-th at n - 1. */
      const madeAt: number[] = [];
      const picture = writePng(
        rgb8(WIDTH, HEIGHT, new Uint8Array(WIDTH * HEIGHT * 3).fill(128)),
        {},
        imageTools,
      );
      const making = makeFrames(picture, end.signal, () => madeAt.push(performance.now()));
      await until("the page moves", async () => (await shownGood(page)) > 0);
      const cpuBefore = await cpuSeconds(process);
      const began = performance.now();
      const lags: number[] = [];
      const health: number[] = [];
      while (performance.now() - began < SECONDS * 1000) {
        await pause(LOOK_MS);
        const shown = await shownGood(page);
        const now = performance.now();
        const next = madeAt[shown];
        lags.push(next === undefined ? 0 : now - next);
        await fetch(`${address}/api/health`);
        health.push(performance.now() - now);
      }
      const seconds = (performance.now() - began) / 1000;
      const cores = ((await cpuSeconds(process)) - cpuBefore) / seconds;
      const pace = madeAt.filter((at) => at > began).length / seconds;
      const clicked = performance.now();
      await page.getByRole("button", { name: "Stop after these" }).click();
      await until("the run is told", async () => (await runById(pool(), runId))!.state !== "active");
      const acted = performance.now() - clicked;
      await page
        .getByText(/Stopping after|Stopped\./)
        .first()
        .waitFor();
      const seen = performance.now() - clicked;
      end.abort();
      await making;
      const lag = median(lags);
      return {
        name: "live-page",
        value: rounded(lag),
        unit: "ms",
        yardstick: rounded(median(health)),
        ratio: rounded(lag / median(health)),
        goal:
          `a page of ${FRAMES.toLocaleString("en")} frames, ${FRAMES_A_SECOND} made a second (measured ${rounded(pace)}): median lag under ${LAG_LIMIT_MS} ms (worst ${rounded(Math.max(...lags))}), ` +
          `Stop acts within ${STOP_LIMIT_MS} ms (measured ${rounded(acted)}, seen after ${rounded(seen)}), the server under ${CORE_LIMIT} of a core (measured ${rounded(cores)}); the yardstick is the health route`,
        holds: lag < LAG_LIMIT_MS && acted < STOP_LIMIT_MS && cores < CORE_LIMIT,
      };
    } finally {
      end.abort();
      await browser.close();
      await fs.rm(root, { recursive: true, force: true, maxRetries: 5 });
    }
  });
}
