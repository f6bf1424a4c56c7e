/**
 * Renderers with a command line: ours called as a stranger, and an image tool of Debian's; good calls and bad
 * ones.
 */
import fs from "node:fs/promises";
import path from "node:path";
import type { RendererDeclaration } from "@/contract/renderer-declaration";
import { readImageTexts } from "@/core/image/check-file";
import type { Plan } from "@/core/plan/plan";
import { countsOf } from "@/core/tally/tally";
import { closePool, pool } from "@/server/db/pool";
import { progressIn } from "@/server/engines/command";
import { runById } from "@/server/store/runs";
import { timedAttempts } from "@/server/store/costs";
import { requireSequence } from "@/server/store/shots";
import { preflightRun } from "@/server/actions/preflight";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { isGone, rendererOf } from "../support/processes";
import { HOME, openStage, type Stage, until } from "../support/stage";
import { listRendering } from "@/server/store/tasks";
import { attemptsOfFrame } from "@/server/store/attempts";
import { logOfRun } from "@/server/store/attempt-lines";
import { stopRun } from "@/server/actions/stop-run";

const OURS = [
  path.join(HOME, "bin/plain-tally.mjs"),
  "render",
  "{scene}",
  "--camera",
  "{camera}",
  "--size",
  "{width}x{height}",
  "--samples",
  "{samples}",
  "--seed",
  "{seed}",
  "--out",
  "{output}",
];
/** A program that does as its line of JavaScript says. */
const doing = (script: string, more: Partial<RendererDeclaration> = {}): RendererDeclaration => ({
  program: process.execPath,
  arguments: ["-e", script, "{output}", "{width}", "{height}"],
  ...more,
});

const RENDERERS: Readonly<Record<string, RendererDeclaration>> = {
  ours: {
    program: process.execPath,
    arguments: [...OURS, "--frame", "{frame}"],
    batch: [...OURS, "--range", "{frames}"],
    uses: ["textures"],
    version: "1",
  },
  drawn: {
    program: "convert",
    arguments: [
      "-size",
      "{width}x{height}",
      "gradient:navy-orange",
      "-fill",
      "white",
      "-draw",
      "line 0,0 {frame},20",
      "-set",
      "comment",
      "{camera}",
      "{output}",
    ],
  },
  failing: doing("console.log('the lamp is out'); console.error('no oil'); process.exit(3)"),
  silent: doing("process.exit(0)"),
  // What a script starts computes, and the script waits for it.
  wrapped: {
    program: "sh",
    arguments: [
      "-c",
      `"$0" -e "for (const until = process.cpuUsage().user + 1e6; process.cpuUsage().user < until;);" && convert -size "$1x$2" xc:red "$3"`,
      process.execPath,
      "{width}",
      "{height}",
      "{output}",
    ],
  },
  small: { program: "convert", arguments: ["-size", "2x2", "xc:red", "{output}"] },
  damaged: doing("require('fs').writeFileSync(process.argv[1], Buffer.from('89504e470d0a1a0a0000', 'hex'))"),
  missing: { program: "/nowhere/renderer", arguments: ["{scene}"] },
  older: doing("0", { probe: ["-e", "console.log('lantern 3.9')"], version: "4.1" }),
  unlicensed: doing("0", { probe: ["-e", "process.exit(3)"] }),
  talking: doing(
    "console.log('the scene is read'); setTimeout(() => (console.log('no oil'), process.exit(3)), 1500)",
  ),
  proven: doing("0", { probe: ["-e", "console.log('lantern 4.1')"], version: "4.1" }),
  slow: doing("console.log('half: 50 %'); setInterval(() => undefined, 1000)", {
    timeoutSeconds: 1,
    progress: "(\\d+) %",
  }),
  endless: doing("console.log('7 of 10'); setInterval(() => undefined, 1000)", {
    progress: "(\\d+) of (\\d+)",
  }),
};

let stage: Stage;
beforeAll(async () => {
  stage = await openStage(undefined, { renderers: RENDERERS });
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const begin = async (code: string, renderer: string, plan: Partial<Plan> = {}) => {
  const shot = await stage.addShot(code, { renderer, frames: "1-2", ...plan });
  return {
    ...shot,
    runId: (
      await startRun({
        sequenceId: shot.sequenceId,
        phrase: "all",
        policy: "fill",
        nodes: null,
        scope: "version",
      })
    ).runId,
  };
};
const isDone = (runId: number) =>
  until(`run ${runId} is done`, async () => (await runById(pool(), runId))?.state === "done");
const lines = async (runId: number): Promise<string[]> =>
  (await logOfRun(pool(), runId, 200)).map((line) => line.text);

describe("with a node", () => {
  beforeAll(async () => {
    await stage.startNode("quay-1");
  });

  test("what a program of its own uses of the processors is measured, also where it is a script that starts another", async () => {
    const { sequenceId, runId } = await begin("CW", "wrapped", { frames: "1" });
    await isDone(runId);
    const [made] = await timedAttempts(pool(), (await requireSequence(sequenceId)).versionId, 1);
    // A second of computing on one processor: by the clock it took at least as long.
    expect(made!.cpuShare).toBeGreaterThan(0);
    expect(made!.cpuShare! * (made!.startupSeconds + made!.renderSeconds)).toBeGreaterThan(0.5);
    expect(made!.cpuShare!).toBeLessThan(1.3);
  });

  test("our own renderer, called by its command line, makes good frames that say who made them", async () => {
    const { sequenceId, folder, runId } = await begin("C1", "ours", { frames: "1-2", offset: 0 });
    await isDone(runId);
    const { tally, files: known } = await loadSequence(sequenceId);
    expect(countsOf(tally).results).toMatchObject({ good: 2 });
    expect(known.map((f) => f.samples)).toEqual([4, 4]);
    const files = await fs.readdir(folder);
    expect(files.sort()).toEqual(["C1.0001.png", "C1.0002.png"]);
    const made = JSON.parse(
      readImageTexts(await fs.readFile(path.join(folder, files[0]!))).get("PlainTally")!,
    ) as Record<string, unknown>;
    expect(made).toMatchObject({ version: "v001", camera: "main", frame: 1, node: "quay-1", samples: 4 });
  });

  test("file numbers that differ from the scene's: the program gets the scene's frame", async () => {
    const { folder, runId, sequenceId } = await begin("C2", "drawn", { frames: "1001", offset: 1000 });
    await isDone(runId);
    expect(await fs.readdir(folder)).toEqual(["C2.1001.png"]);
    // The program is told nothing of samples: its frame claims none.
    expect((await loadSequence(sequenceId)).files.map((f) => f.samples)).toEqual([null]);
    expect((await lines(runId)).some((line) => line.includes("convert called"))).toBe(true);
  });

  test("a batch is one call for several frames", async () => {
    const shot = await stage.addShot("C3", { renderer: "ours", frames: "1-6" });
    const { runId } = await startRun({
      sequenceId: shot.sequenceId,
      phrase: "all",
      policy: "fill",
      nodes: null,
      scope: "version",
      batch: 3,
    });
    await isDone(runId);
    expect(countsOf((await loadSequence(shot.sequenceId)).tally).results).toMatchObject({ good: 6 });
    expect((await lines(runId)).filter((line) => line.includes("called"))).toEqual(
      Array.from({ length: 2 }, () => `${process.execPath} called for 3 frames at once`),
    );
    for (let frame = 1; frame <= 6; frame++)
      expect((await attemptsOfFrame(pool(), shot.sequenceId, frame)).map((a) => a.outcome)).toEqual(["done"]);
  });

  test.each([
    ["failing", "renderer-failed", /exit code 3\. It said: .*the lamp is out.*/],
    ["silent", "no-picture", /left no picture/],
    ["small", "no-picture", /2 x 2, asked were 48 x 27/],
    ["damaged", "no-picture", /its picture is damaged/],
    ["slow", "time-out", /longer than 1 s/],
  ])("%s: nothing is taken for a frame, and the reason is told", async (renderer, code, message) => {
    const { sequenceId, folder, runId } = await begin(`F${renderer}`, renderer);
    const held = await until("the run is held", async () => (await runById(pool(), runId))?.held);
    expect(held).toMatchObject({ code: "scene-fails", error: code, message: expect.stringMatching(message) });
    expect(countsOf((await loadSequence(sequenceId)).tally).results).toMatchObject({ good: 0, failed: 2 });
    expect(await fs.readdir(folder)).toEqual([]);
    await stopRun(runId, "now");
  });
});

test("each line has the time at which it was said, and not the end's", async () => {
  const { runId } = await begin("C9", "talking", { frames: "1" });
  await stage.startNode("quay-5");
  const said = await until("it has failed", async () => {
    const rows = await logOfRun(pool(), runId, 200);
    return rows.some((r) => r.text === "no oil") && rows;
  });
  const at = (text: string) =>
    said
      .filter((r) => r.text === text)
      .at(-1)!
      .at.getTime();
  expect(at("no oil") - at("the scene is read")).toBeGreaterThanOrEqual(1_000);
  await stopRun(runId, "now");
});

test("nodes prove the program before a start: that it is there, that it runs, and its version", async () => {
  await stage.startNode("quay-4");
  const reasons = async (renderer: string): Promise<readonly string[] | undefined> => {
    const shot = await stage.addShot(`P${renderer}`, { renderer, frames: "1" });
    const wish = { sequenceId: shot.sequenceId, phrase: "all", policy: "fill", scope: "version" } as const;
    const points = await preflightRun({ ...wish, nodes: ["quay-4"] });
    const point = points.find((p) => p.code === "node-lacks-renderer");
    if (point !== undefined)
      await expect(startRun({ ...wish, nodes: ["quay-4"] })).rejects.toMatchObject({
        code: "preflight-stops",
      });
    return point?.reasons;
  };
  expect(await reasons("missing")).toEqual(["missing: there is no program /nowhere/renderer"]);
  expect(await reasons("older")).toEqual([expect.stringMatching(/^older: .* says nothing of version 4\.1$/)]);
  expect(await reasons("unlicensed")).toEqual([
    expect.stringMatching(/^unlicensed: .* ended with exit code 3$/),
  ]);
  expect(await reasons("proven")).toBeUndefined();
});

test("progress is read from its lines; a stop ends it at once; and it ends with a node that is killed", async () => {
  const shot = await stage.addShot("C4", { renderer: "endless", frames: "1" });
  const { runId } = await startRun({
    sequenceId: shot.sequenceId,
    phrase: "all",
    policy: "fill",
    nodes: ["quay-2", "quay-3"],
    scope: "version",
  });
  const victim = await stage.startNode("quay-2");
  const isSeen = (node: string) =>
    until(`progress on ${node} is seen`, async () =>
      (await listRendering(pool())).some(
        (r) => r.runId === runId && Math.abs((r.progress ?? 0) - 0.7) < 1e-6 && r.node === node,
      ),
    );
  await isSeen("quay-2");
  const program = (await rendererOf(victim))!;
  const over = new Promise((resolve) => victim.once("exit", resolve));
  victim.kill("SIGKILL");
  await over;
  await until("the program has ended with its node", () => isGone(program));
  const successor = await stage.startNode("quay-3");
  await isSeen("quay-3");
  const second = (await rendererOf(successor))!;
  await stopRun(runId, "now");
  await until("the run has stopped", async () => (await runById(pool(), runId))?.state === "stopped");
  await until("the program has ended with the run", () => isGone(second));
  expect((await attemptsOfFrame(pool(), shot.sequenceId, 1)).map((a) => a.outcome)).toEqual([
    "stopped",
    "lost",
  ]);
});

test.each([
  ["42 %", "(\\d+) %", 0.42],
  ["sample 3/12", "(\\d+)/(\\d+)", 0.25],
  ["250 %", "(\\d+) %", 1],
  ["nothing here", "(\\d+) %", null],
  ["3/0", "(\\d+)/(\\d+)", null],
])("progress in %p", (line, pattern, share) => expect(progressIn(line, new RegExp(pattern))).toBe(share));

test("a plan that names a renderer which nobody declared is refused at its field, and so are passes that it cannot write", async () => {
  await expect(stage.addShot("C5", { renderer: "unheard-of" })).rejects.toMatchObject({
    code: "plan-wrong",
    faults: [{ field: "renderer" }],
  });
  await expect(stage.addShot("C6", { renderer: "ours", passes: ["beauty", "depth"] })).rejects.toMatchObject({
    code: "plan-wrong",
    faults: [{ field: "passes" }],
  });
});
