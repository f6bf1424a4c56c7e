/** Several looks in one run, and what follows when one of them is chosen. */
import fs from "node:fs/promises";
import path from "node:path";
import { formatPhrase } from "@/core/frames/phrase";
import { closePool, pool } from "@/server/db/pool";
import { eventsAfter, lastEventId } from "@/server/store/events";
import { runById } from "@/server/store/runs";
import { versionsOfRun } from "@/server/store/run-versions";
import { latestRevision, listVersions } from "@/server/store/shots";
import { changeRun } from "@/server/actions/change-run";
import { currentSequence } from "@/server/views/current-sequence";
import { decideOnVersion } from "@/server/actions/decide-version";
import { removeVersion, startInNextVersion } from "@/server/actions/next-version";
import { preflightRun } from "@/server/actions/preflight";
import { summarizeRun } from "@/server/views/run-summary";
import { openVersion } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { loadSequence } from "@/server/views/tally";
import { PLAN } from "../support/plan";
import { openStage, type Stage, until } from "../support/stage";
import { runCounts, tasksOfRun } from "@/server/store/tasks";
import { stopRun } from "@/server/actions/stop-run";
import { requireShot } from "@/server/store/find-shot";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

/** A shot with looks that differ by their seed. */
async function looks(code: string, ...frames: readonly string[]) {
  const first = await stage.addShot(code, { frames: frames[0]! });
  const others = [];
  for (const [i, phrase] of frames.slice(1).entries())
    others.push(await openVersion(code, { ...PLAN, frames: phrase, seed: 10 + i }));
  const sequences = [first.sequenceId, ...others.map((o) => o.sequenceId)];
  return {
    sequences,
    versions: [first.versionId, ...others.map((o) => o.revision.versionId)],
    folder: path.join(stage.projectFolder, code),
  };
}

const run = (
  sequenceId: number,
  also: readonly string[],
  more: { phrase?: string; policy?: "fill" | "all" } = {},
) => startRun({ sequenceId, scope: "version", phrase: "all", policy: "fill", nodes: null, also, ...more });
const waitingOf = async (sequenceId: number): Promise<string> =>
  formatPhrase((await loadSequence(sequenceId)).tally.activities.waiting);

test("one run renders four looks, frame by frame beside each other, each from its own plan", async () => {
  const { sequences, versions, folder } = await looks("L1", "1-2", "1-2", "1-2", "2");
  const before = await lastEventId(pool());
  const { runId, tasks } = await run(sequences[0]!, ["v002", "v003", "v004"]);
  expect(tasks).toBe(7);
  expect((await tasksOfRun(pool(), runId)).map((t) => [t.frame, t.leadId])).toEqual([
    ...sequences.slice(0, 3).map((id) => [1, id]),
    ...sequences.map((id) => [2, id]),
  ]);
  // Whoever looks at any of them hears of the run.
  expect(
    (await eventsAfter(pool(), before, 50)).filter((e) => e.kind === "run").map((e) => e.sequenceId),
  ).toEqual(sequences);
  expect(await Promise.all(sequences.map(waitingOf))).toEqual(["1-2", "1-2", "1-2", "2"]);
  await stage.startNode("quay-1");
  await until("the run is done", async () => (await runById(pool(), runId))!.state === "done");
  for (const sequence of sequences) {
    const { tally } = await loadSequence(sequence);
    expect(formatPhrase(tally.results.good)).toBe(formatPhrase(tally.asked));
  }
  const pictures = await Promise.all(
    ["v001", "v002", "v003", "v004"].map(async (v) =>
      (await fs.readFile(path.join(folder, v, "main/beauty/L1.0002.png"))).toString("base64"),
    ),
  );
  expect(new Set(pictures).size).toBe(4);
  expect((await versionsOfRun(pool(), runId)).map((v) => v.versionId)).toEqual(versions);
  expect(await summarizeRun(runId)).toMatchObject({
    made: 7,
    folders: ["v001", "v002", "v003", "v004"].map((v) => path.join(folder, v, "main/beauty")),
  });
});

test("a name means each version's own frames, and the preflight says what is rendered of each", async () => {
  const { sequences } = await looks("L2", "1-4", "3-8");
  const request = {
    sequenceId: sequences[0]!,
    scope: "version" as const,
    phrase: "missing",
    policy: "fill" as const,
    // The nodes of the test before would take frames between two statements.
    nodes: ["nobody"],
    also: ["v002"],
  };
  expect((await preflightRun(request)).find((p) => p.code === "versions")).toEqual({
    code: "versions",
    versions: [
      { version: "v001", frames: "1-4", count: 4 },
      { version: "v002", frames: "3-8", count: 6 },
    ],
  });
  const { runId } = await startRun(request);
  expect((await runById(pool(), runId))!.wanted).toBe("1-8");
  // Trimmed while it goes, in both.
  expect(await changeRun(runId, { phrase: "3-6" })).toEqual({ added: 0, droppedOut: 2 + 2 });
  expect(await Promise.all(sequences.map(waitingOf))).toEqual(["3-4", "3-6"]);
  await stopRun(runId, "now");
});

test("one look is chosen while the run goes: the others wait no more, and are rendered no more until they are opened again", async () => {
  const { sequences, versions } = await looks("L3", "1-3", "1-3", "1-3");
  const { runId } = await run(sequences[0]!, ["v002", "v003"], { phrase: "first" });
  await until("the first frames are there", async () => (await runById(pool(), runId))!.state === "done");
  // Nobody takes these: they wait for a node that never comes.
  const { runId: waiting } = await startRun({
    sequenceId: sequences[0]!,
    scope: "version",
    phrase: "all",
    policy: "fill",
    nodes: ["nobody"],
    also: ["v002", "v003"],
  });
  expect(await decideOnVersion(versions[1]!, "choose")).toEqual({ dropped: 4 });
  const shot = (await requireShot("L3")).shot;
  expect((await listVersions(pool(), shot.id)).map((v) => v.status)).toEqual([
    "retired",
    "chosen",
    "retired",
  ]);
  expect((await currentSequence(shot.id))!.id).toBe(sequences[1]);
  expect(await Promise.all(sequences.map(waitingOf))).toEqual(["", "2-3", ""]);
  expect(await runCounts(pool(), waiting)).toEqual({ waiting: 2, leased: 0, done: 0, failed: 0 });
  await expect(run(sequences[0]!, [], { policy: "all" })).rejects.toMatchObject({
    code: "version-retired",
    message: "v001 is retired since v002 was chosen: open it again, or run v002.",
  });
  await expect(run(sequences[1]!, ["v003"])).rejects.toMatchObject({ code: "version-retired" });
  await expect(run(sequences[1]!, ["v009"])).rejects.toMatchObject({
    code: "version-not-of-shot",
    faults: [{ field: "also" }],
  });
  // More frames for the run mean the chosen one alone.
  expect(await changeRun(waiting, { phrase: "1-3", policy: "all" })).toEqual({ added: 1, droppedOut: 0 });
  await stopRun(waiting, "now");
  expect(await decideOnVersion(versions[0]!, "open")).toEqual({ dropped: 0 });
  expect((await listVersions(pool(), shot.id)).map((v) => v.status)).toEqual(["open", "chosen", "retired"]);
  const again = await run(sequences[0]!, []);
  expect(formatPhrase(again.decision.toRender)).toBe("2-3");
  await stopRun(again.runId, "now");
});

test("the last waiting frames of a run are of a look that is retired: the run ends", async () => {
  const { sequences, versions } = await looks("L4", "1-2", "1-2");
  const { runId } = await startRun({
    sequenceId: sequences[0]!,
    scope: "version",
    phrase: "all",
    policy: "fill",
    nodes: ["nobody"],
  });
  await decideOnVersion(versions[1]!, "choose");
  expect((await runById(pool(), runId))!.state).toBe("done");
});

test("a run opens its own next version with the same plan: what is there stays, all that is asked for is rendered", async () => {
  const { sequences } = await looks("N1", "1-3");
  const asked = {
    sequenceId: sequences[0]!,
    scope: "version",
    phrase: "1-2",
    policy: "fill",
    nodes: null,
  } as const;
  await startRun({ ...asked, startAt: Date.now() + 3_600_000 });
  const points = await preflightRun({ ...asked, nodes: [], inNextVersion: true });
  expect(points.find((p) => p.code === "frames")).toMatchObject({ render: 2, keep: 0 });
  const started = await startInNextVersion(asked, "Mara");
  expect([started.version, started.tasks]).toEqual(["v002", 2]);
  const [v1, v2] = await listVersions(pool(), (await requireShot("N1")).shot.id);
  expect((await versionsOfRun(pool(), started.runId)).map((v) => v.versionId)).toEqual([v2!.id]);
  expect((await latestRevision(pool(), v2!.id))?.plan).toEqual((await latestRevision(pool(), v1!.id))?.plan);
  expect(await waitingOf(sequences[0]!)).toBe("1-2");
});

test("a start that fails leaves no version behind; an empty version is taken out, one that something was made of is not", async () => {
  const { sequences, versions } = await looks("N2", "1-3", "1-3");
  const { shot } = await requireShot("N2");
  const names = async () => (await listVersions(pool(), shot.id)).map((v) => v.number);
  const asked = { sequenceId: sequences[0]!, scope: "version", policy: "fill", nodes: null } as const;
  await expect(startInNextVersion({ ...asked, phrase: "7" })).rejects.toMatchObject({
    code: "frames-not-planned",
  });
  expect(await names()).toEqual([1, 2]);
  await startRun({ ...asked, phrase: "1" });
  await expect(removeVersion(versions[0]!)).rejects.toMatchObject({ code: "version-in-use" });
  await removeVersion(versions[1]!);
  expect(await names()).toEqual([1]);
  await expect(removeVersion(versions[1]!)).rejects.toMatchObject({ code: "version-unknown" });
  const alone = await looks("N3", "1");
  await expect(removeVersion(alone.versions[0]!)).rejects.toThrow("it is the only one of its shot");
});
