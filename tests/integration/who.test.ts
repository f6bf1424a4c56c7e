/** Who did it: the name that was given stands beside the deed for everybody else. */
import { decideOnVersion } from "@/server/actions/decide-version";
import { clearFlags, flagFrames } from "@/server/actions/flags";
import { bringInList } from "@/server/actions/bring-in-shots";
import { changeProject, createProject } from "@/server/actions/projects";
import { changeShotAndPlan } from "@/server/actions/shots";
import { directNode, pauseAll } from "@/server/actions/nodes";
import { removeShot } from "@/server/actions/remove-shot";
import { saveRevision } from "@/server/actions/save-plan";
import { startRun } from "@/server/actions/start-run";
import { resumeRun, stopRun } from "@/server/actions/stop-run";
import { closePool, pool } from "@/server/db/pool";
import { row } from "@/server/db/rows";
import { runById } from "@/server/store/runs";
import { latestRevision } from "@/server/store/shots";
import { viewProjects } from "@/server/views/projects";
import { viewShots } from "@/server/views/shots";
import { RATE } from "../support/plan";
import { viewNodes } from "@/server/views/nodes";
import { viewRun } from "@/server/views/runs";
import { viewSequence } from "@/server/views/sequence";
import { viewRevisions, viewShot } from "@/server/views/shot";
import { openStage, type Stage, until } from "../support/stage";

let stage: Stage;
beforeAll(async () => {
  stage = await openStage();
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

const small = { width: 32, height: 18, samples: 2 };
const wish = (sequenceId: number) =>
  ({ sequenceId, phrase: "all", policy: "fill", nodes: null, scope: "version" }) as const;

test("a run says who started, stopped and continued it; a version, a plan and a flag whose they are", async () => {
  const shot = await stage.addShot("WH1", { frames: "1-3", ...small });
  const { runId } = await startRun(wish(shot.sequenceId), "Mara");
  await stopRun(runId, "after-frames", "Jon");
  await resumeRun(runId);
  const run = await viewRun((await runById(pool(), runId))!);
  expect(run.deeds.map(({ who, did }) => [did, who])).toEqual([
    ["go-on", null],
    ["stop", "Jon"],
    ["start", "Mara"],
  ]);
  await stage.startNode("quay-1");
  await until("the run is done", async () => (await runById(pool(), runId))?.state === "done");

  await flagFrames(shot.sequenceId, "1-2", "too dark", "Mara");
  await clearFlags(shot.sequenceId, "2", "Jon");
  const view = await viewSequence(shot.sequenceId);
  expect(view.findings.map((f) => [f.frame, f.who, f.closedWho])).toEqual([[1, "Mara", null]]);
  expect(view.closedFindings.map((f) => [f.frame, f.who, f.closedWho])).toEqual([[2, "Mara", "Jon"]]);

  const before = (await latestRevision(pool(), shot.versionId))!;
  await saveRevision("test-film/WH1", shot.versionId, { ...before.plan, seed: 7 }, before.number, {}, "Ana");
  expect((await viewRevisions("test-film/WH1", shot.versionId)).map((r) => r.who)).toEqual(["Ana", null]);
  await decideOnVersion(shot.versionId, "choose", "Ana");
  const { versions } = await viewShot("test-film/WH1", { version: null, camera: null, pass: null });
  expect(versions[0]!.decided).toMatchObject({ who: "Ana", did: "choose" });

  // What is taken out of the tally takes its deeds along.
  await removeShot("test-film/WH1");
  expect(
    await row(pool(), "SELECT COUNT(*) AS n FROM deed WHERE node_id IS NULL AND project_id IS NULL"),
  ).toEqual({ n: 0 });
});

test("a project and a shot say who made, changed, archived and brought them back last", async () => {
  await createProject(
    { slug: "who-film", title: "Who", rate: RATE, root: "frames", folder: "who-film" },
    "Mara",
  );
  const deedOf = async () => (await viewProjects()).projects.find((p) => p.slug === "who-film")!.deed;
  expect(await deedOf()).toMatchObject({ who: "Mara", did: "make" });
  await changeProject("who-film", { title: "Who did it" }, "Jon");
  expect(await deedOf()).toMatchObject({ who: "Jon", did: "change" });

  const code = "WH2";
  await stage.addShot(code, { frames: "1-3", ...small });
  const line = async () => (await viewShots("test-film")).shots.find((s) => s.code === code);
  await changeShotAndPlan(`test-film/${code}`, { title: "the tide" }, "Ana");
  expect((await line())?.deed).toMatchObject({ who: "Ana", did: "change" });
  await changeShotAndPlan(`test-film/${code}`, { isArchived: true }, "Ana");
  await changeShotAndPlan(`test-film/${code}`, { isArchived: false });
  expect((await line())?.deed).toMatchObject({ who: null, did: "bring-back" });
  await bringInList("test-film", "code,first,last\nWH3,1,4\n", false, "Mara");
  expect((await viewShots("test-film")).shots.find((s) => s.code === "WH3")?.deed).toMatchObject({
    who: "Mara",
    did: "make",
  });
});

test("a node and the whole house say who paused them last", async () => {
  await stage.startNode("quay-2");
  await directNode("quay-2", { pause: "now" }, "Mara");
  // Another setting is no pause.
  await directNode("quay-2", { nice: 5 }, "Jon");
  await pauseAll("after-frame", "Ana");
  const { nodes, pausedBy } = await viewNodes();
  expect(nodes.find((n) => n.name === "quay-2")!.pausedBy).toMatchObject({ who: "Mara" });
  expect(pausedBy).toMatchObject({ who: "Ana", did: "pause" });
});
