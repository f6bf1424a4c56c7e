/**
 * What comes from outside and is wrong: every route, every field, every trick. The list of routes is read from
 * the file system. Each route begins with a request that succeeds; then one thing at a time is changed. No
 * answer is a fault of the server, and what is known afterwards is what was known before.
 */
import fs from "node:fs/promises";
import path from "node:path";
import pLimit from "p-limit";
import { measurePicture } from "@/core/image/measure-picture";
import { closePool, pool, transact } from "@/server/db/pool";
import { row, rows } from "@/server/db/rows";
import { startProofs } from "@/server/actions/proofs";
import { startRun } from "@/server/actions/start-run";
import { stopRun } from "@/server/actions/stop-run";
import { savePreset } from "@/server/actions/presets";
import { createProject } from "@/server/actions/projects";
import { openVersion } from "@/server/actions/save-plan";
import { changeShot, makeShot } from "@/server/actions/shots";
import { takeIn } from "@/server/actions/take-in";
import { catchUp } from "@/server/folder/check";
import { lookAtFolder } from "@/server/folder/found-folder";
import { placeBelowRoot } from "@/server/folder/place-below-root";
import { wishOf } from "@/contract/handover";
import { attemptHandover } from "@/server/handover/attempt";
import { createHandover } from "@/server/handover/create";
import { USUAL_THRESHOLDS } from "@/core/odd/odd";
import { USUAL_MOVIE } from "@/core/handover/wish";
import { keepMoviePreset } from "@/server/handover/movie-presets";
import { handedOverOf } from "@/server/handover/reel-of-row";
import { claim } from "@/server/queue/claim";
import { claimOneHandover } from "@/server/queue/handover-lease";
import { addPerson, idOfPerson } from "@/server/actions/people";
import { setNodeAside } from "@/server/store/asides";
import { fileOfFrame } from "@/server/store/frame-files";
import { saveMeasured } from "@/server/store/measures";
import { saveNode } from "@/server/store/nodes";
import { savePreview } from "@/server/store/previews";
import { sequencesOfVersion } from "@/server/store/shots";
import { runById } from "@/server/store/runs";
import { runCounts } from "@/server/store/tasks";
import { viewSequence } from "@/server/views/sequence";
import { PLAN } from "../support/plan";
import { wavFile } from "../support/sound";
import { writeScene } from "../support/scene";
import { HOME, openStage, type Stage, until } from "../support/stage";

type Method = "GET" | "POST" | "DELETE" | "PUT" | "PATCH";
interface Valid {
  /** Values for the parts of the path in brackets. */
  readonly path?: Readonly<Record<string, string | number>>;
  readonly query?: Readonly<Record<string, string>>;
  readonly body?: unknown;
  /** Where the best that can be said is no: here no node is awake. */
  readonly isRefused?: number;
}

/** What stands in place of a value, whatever its kind. */
const TRICKS: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  1.5,
  1e21,
  "",
  " ",
  "\u0000",
  "-",
  "../../../etc/passwd",
  "..%2f..%2fetc",
  "/etc/passwd",
  "<script>alert(1)</script>",
  "'; DROP TABLE run; --",
  "\u202e\ud83d\udca5".repeat(20),
  "\ud800",
  "x".repeat(70_000),
  `marker(${" ".repeat(6_000)}x`,
  "1-999999999/2,".repeat(2_000),
  "99999999999999999999",
  [],
  [null],
  {},
  { length: 1e9 },
];
/** In the path and the query everything is a text. */
const TEXT_TRICKS = TRICKS.filter(
  (t): t is string => typeof t === "string" && t.length < 7_000 && !/^\p{Surrogate}$/u.test(t),
).concat("1e3", "NaN", "-0", "2147483648", "9999999999");
/** As they stand in an address: what is no text at all when it is read back. */
const RAW_TRICKS = [
  "%00",
  "%ff",
  "%ED%A0%80",
  "%c0%ae%c0%ae%2f",
  "%2e%2e%2f%2e%2e%2f",
  "%zz",
  "%",
  "a%0d%0ab",
];
/** Deeper than any parser of ours goes by itself. */
const DEEP = `${"[".repeat(100_000)}${"]".repeat(100_000)}`;
const WHOLE_BODIES = ["", "{", "null", "[]", "7", '"text"', DEEP, `{"a":${DEEP}}`, "\ufeff{}"];

async function newPerson(name: string): Promise<number> {
  await addPerson({ name, role: "run" }, null);
  return idOfPerson(name);
}
/** What is made, changed and removed by the requests. */
const TRICKED = {
  slug: "tricked-film",
  title: "Tricked",
  rate: { numerator: 24, denominator: 1 },
  root: "frames",
  folder: "tricked-film",
};

let stage: Stage;
let address: string;
let server: number;
const requests: Record<string, Valid> = {};
let kept: Awaited<ReturnType<Stage["addShot"]>>;

/** Every handler below src/app/api, as `GET /api/runs/[id]/log`. */
async function handlers(): Promise<readonly string[]> {
  const root = path.join(HOME, "src/app");
  const files = (await fs.readdir(path.join(root, "api"), { recursive: true })).filter(
    (f) => path.basename(f) === "route.ts",
  );
  const found: string[] = [];
  for (const file of files) {
    const text = await fs.readFile(path.join(root, "api", file), "utf8");
    for (const [, method] of text.matchAll(
      /export (?:async )?(?:function|const) (GET|POST|DELETE|PUT|PATCH)\b/g,
    ))
      found.push(`${method} /api/${path.dirname(file)}`);
  }
  return found.sort();
}

/** All that is known of the frames of the shot that must stay as it is. */
const known = async () => ({
  files: await rows<object>(pool(), "SELECT * FROM frame_file WHERE sequence_id = ? ORDER BY frame", [
    kept.sequenceId,
  ]),
  tally: (await viewSequence(kept.sequenceId)).tally.results,
  shots: await rows<object>(
    pool(),
    "SELECT s.* FROM shot s JOIN project p ON p.id = s.project_id WHERE p.slug = 'test-film' ORDER BY s.id",
  ),
  project: await rows<object>(pool(), "SELECT * FROM project WHERE slug = 'test-film'"),
});

beforeAll(async () => {
  stage = await openStage();
  kept = await stage.addShot("HO1", { frames: "1-3" });
  const used = await stage.addShot("HO2", { frames: "1-4" });
  const { sequenceId } = used;
  const node = await stage.startNode("quay-1");
  const wish = { phrase: "all", policy: "fill", nodes: null, scope: "version" } as const;
  const done = (id: number) =>
    until(`run ${id} is done`, async () => {
      const counts = await runCounts(pool(), id);
      return counts.waiting + counts.leased === 0 && (await runById(pool(), id))?.state === "done";
    });
  await done((await startRun({ sequenceId: kept.sequenceId, ...wish })).runId);
  await done((await startRun({ sequenceId, ...wish, phrase: "1-2" })).runId);
  // Frame 1 again: the file of before is kept aside.
  await done((await startRun({ sequenceId, ...wish, phrase: "1", policy: "all" })).runId);
  const proof = (
    await startProofs(sequenceId, { phrase: "3", plan: { ...PLAN, frames: "1-4" }, nodes: null, strip: null })
  ).runs[0]!;
  await done(proof);
  const over = new Promise((resolve) => node.once("exit", resolve));
  node.kill("SIGTERM");
  await over;

  const nodeId = await saveNode(pool(), {
    name: "crane",
    host: "crane",
    processors: 2,
    pid: 1,
    session: "s",
  });
  const other = await saveNode(pool(), {
    name: "barge-1",
    host: "barge-1",
    processors: 2,
    pid: 1,
    session: "s",
  });
  await setNodeAside(pool(), other, null, {
    code: "fails-alone",
    frames: [1],
    error: "engine-died",
    message: "x",
  });
  const aside = (await row<{ id: number }>(pool(), "SELECT id FROM node_aside"))!.id;
  await savePreset("plain", { samples: 8 });
  const preset = (await row<{ id: number }>(pool(), "SELECT id FROM preset"))!.id;
  await savePreset("other", { samples: 9 });
  const dropped = (await row<{ id: number }>(pool(), "SELECT id FROM preset WHERE name = 'other'"))!.id;
  await keepMoviePreset("dropped", USUAL_MOVIE, null);
  const moviePreset = (await row<{ id: number }>(pool(), "SELECT id FROM movie_preset"))!.id;
  const third = await stage.addShot("HO3", { frames: "1-2" });
  const handedOut = (
    await startRun({ sequenceId: third.sequenceId, ...wish, shares: [{ machine: "barge", phrase: "1-2" }] })
  ).runId;
  const fourth = await stage.addShot("HO4", { frames: "1-6" });
  const going = (await startRun({ sequenceId: fourth.sequenceId, ...wish, nodes: ["crane"] })).runId;
  const lease = (await claim(pool(), { id: nodeId, name: "crane" }, 3_600))!;
  await savePreview(pool(), lease, new Uint8Array([255, 216, 255, 217]));
  const fifth = await stage.addShot("HO5", { frames: "1-2" });
  const stopped = (await startRun({ sequenceId: fifth.sequenceId, ...wish, nodes: ["crane"] })).runId;
  await stopRun(stopped, "now");
  const seventh = await stage.addShot("HO7", { frames: "1-2" });
  const stoppedToo = (await startRun({ sequenceId: seventh.sequenceId, ...wish, nodes: ["crane"] })).runId;
  await stopRun(stoppedToo, "now");
  const sixth = await openVersion("HO5", { ...PLAN, frames: "1-2", seed: 3 });
  const empty = await openVersion("HO5", { ...PLAN, frames: "1-2", seed: 4 });
  const before = (await fs.readdir(path.join(used.folder, "../../.tally/aside/main/beauty")))[0]!;

  // A project of its own for what makes, changes and removes projects and shots.
  const film = { project: TRICKED.slug };
  await createProject(TRICKED);
  await createProject({ ...TRICKED, slug: "gone-film", folder: "gone-film" });
  await writeScene(path.join(stage.root, TRICKED.folder));
  const facts = { title: "tricked", firstFrame: 1, lastFrame: 4, markers: [] };
  for (const code of ["TR1", "TR2"])
    await makeShot(TRICKED.slug, { ...facts, code }, { ...PLAN, frames: "1-4" });
  for (const folder of [stage.projectFolder, path.join(stage.root, TRICKED.folder)])
    await fs.writeFile(path.join(folder, "scenes/gulls.wav"), wavFile(0.1));
  await changeShot("test-film/HO2", { sound: { path: "scenes/gulls.wav", offset: 0 } });
  await fs.mkdir(path.join(stage.root, "elsewhere"));
  await fs.copyFile(
    path.join(
      used.folder,
      (await fs.readdir(used.folder)).find((name) => name.endsWith(".png"))!,
    ),
    path.join(stage.root, "elsewhere/a.0001.png"),
  );
  const outside = path.join(stage.root, "from-farm");
  await fs.cp(path.join(stage.root, "elsewhere"), outside, { recursive: true });
  const taken = await takeIn(TRICKED.slug, await lookAtFolder(await placeBelowRoot(outside)), {
    ...{ code: "TRW", title: null, sequences: null, rate: null, alpha: null, isLinear: null },
  });
  const [watched] = await sequencesOfVersion(pool(), taken.versionId);
  await catchUp(watched!);
  const bring = { name: "brought.json", upload: "0123456789", from: "0", size: "5" };
  const shotWish = {
    code: "TR5",
    title: null,
    timeLine: { first: 1, last: 2 },
    scene: null,
    renderer: "stand-in",
    cameras: null,
    markers: null,
  };

  const ask = async (): Promise<number> =>
    (
      await createHandover({
        ...(await handedOverOf(sequenceId)),
        wish: wishOf({ as: "list", frames: "1-2" }),
        ...{ who: null, runId: null, outside: null },
      })
    ).id;
  const give = async (): Promise<number> => {
    const handover = await ask();
    await attemptHandover(
      {
        pool: pool(),
        leaseSeconds: 25,
        stop: new AbortController().signal,
        whileAway: (work) => work(),
      },
      (await claimOneHandover(pool(), handover, null))!,
    );
    return handover;
  };
  const [given, givenToo] = [await give(), await give()];
  // One that is odd without any beside it.
  const { content } = (await fileOfFrame(pool(), sequenceId, 1))!;
  await transact(async (tx) => {
    await saveMeasured(
      tx,
      { sequenceId, frame: 1, content: content! },
      measurePicture({ width: 2, height: 1, channels: 3, data: new Float32Array(6).fill(NaN) }, true),
    );
  });
  const movie = {
    ...{ as: "movie", frames: "1-2", gaps: "card", isDeep: false, rate: null },
    movie: {
      ...{
        codec: "h264",
        container: "mp4",
        quality: 20,
        bitRate: null,
        rate: { numerator: 24, denominator: 1 },
      },
      ...{ percent: 50, loops: 2, holdFirst: 1, holdLast: 1, stops: 0, view: null, beside: null },
      behind: { kind: "colour", colour: [0, 0, 0] },
      burnt: ["frame"],
      sound: { path: "scenes/gulls.wav", from: 0, offset: 0 },
    },
    sheet: { columns: 2, format: "png", hasCaptions: true, stops: 0, view: null },
    copy: { format: "same", from: 1, digits: 4, name: "a", stops: 0, view: null },
  };
  const shot = { project: "test-film", code: "HO2" };
  const id = (value: number): Valid["path"] => ({ id: value });
  const frame = { path: { id: sequenceId, frame: 1 } };
  const [person, goer] = [await newPerson("Stays"), await newPerson("Goes")];
  const plan = { ...PLAN, frames: "1-4" };
  Object.assign(requests, {
    "POST /api/asides/[id]": { path: id(aside) },
    "GET /api/events": {},
    "GET /api/health": {},
    "GET /api/nodes": {},
    "GET /api/me": {},
    "GET /api/openapi": {},
    // Nobody has that key.
    "POST /api/sign-in": { body: { name: "Mara", key: "k7m2p-00000" }, isRefused: 401 },
    "POST /api/sign-out": {},
    "GET /api/people": {},
    "POST /api/people": { body: { name: "Somebody new", role: "look" } },
    "PATCH /api/people/[id]": { path: id(person), body: { role: "mark" } },
    "DELETE /api/people/[id]": { path: id(goer) },
    "GET /api/audit": { query: { before: "1000" } },
    "GET /api/nodes/invitations": {},
    // Nothing listens beyond this machine here.
    "POST /api/nodes/invitations": {
      body: { name: "far-1", roots: { frames: "/mnt/frames" }, address: null, again: false },
      isRefused: 409,
    },
    "DELETE /api/nodes/invitations/[name]": { path: { name: "far-1" }, isRefused: 404 },
    "POST /api/nodes/[name]/aside": { path: { name: "crane" }, body: { why: "its font is another" } },
    "POST /api/nodes/[name]": { path: { name: "crane" }, body: { pause: "no", cores: 1, hours: null } },
    "POST /api/pause": { body: { pause: "no" } },
    "POST /api/renderers/[name]/limit": { path: { name: "stand-in" }, body: { atOnce: 1000 } },
    "GET /api/movie-presets": {},
    "POST /api/movie-presets": { body: { name: "for the client", movie: { percent: 50 } } },
    "DELETE /api/movie-presets/[id]": { path: id(moviePreset) },
    "GET /api/presets": {},
    "POST /api/presets": { body: { name: "new one", settings: { samples: 4 } } },
    "POST /api/presets/[id]": { path: id(preset), body: { name: "renamed" } },
    "DELETE /api/presets/[id]": { path: id(dropped) },
    "POST /api/presets/import": {
      body: { text: '{"format":"plain-tally-preset/1","name":"taken in","settings":{"samples":3}}' },
    },
    "POST /api/demo": {},
    "GET /api/news": { query: { since: "2026-11-30T20:00:00Z" } },
    "GET /api/runs": {},
    "POST /api/runs": { body: { runs: [going], what: "priority", priority: 1 } },
    "GET /api/cluster": {},
    "GET /api/settings": {},
    "GET /api/settings/nodes": {},
    "POST /api/settings/tries": {
      body: {
        node: "crane",
        project: "test-film",
        scene: PLAN.scene,
        renderer: "stand-in",
        camera: "main",
        frame: 1,
      },
      isRefused: 409,
    },
    "GET /api/settings/tries/[id]": { path: id(1) },
    "GET /api/projects": {},
    "POST /api/projects": {
      body: { title: "Made", slug: "made-film", rate: "24", root: "frames", folder: "made-film" },
    },
    "PATCH /api/projects/[project]": {
      path: film,
      body: { title: "Tricked", rate: "25", isArchived: false },
    },
    "DELETE /api/projects/[project]": { path: { project: "gone-film" } },
    "GET /api/projects/[project]/codes": { path: film },
    "GET /api/projects/[project]/files": { path: film },
    // Five bytes, as they are sent.
    "PUT /api/projects/[project]/files": { path: film, query: bring, body: [7, 9] },
    "DELETE /api/projects/[project]/files": { path: film, query: bring },
    "GET /api/projects/[project]/scene-facts": {
      path: film,
      query: { scene: PLAN.scene, renderer: "stand-in" },
    },
    "GET /api/folders": { query: { root: "frames", folder: "", find: "beauty" } },
    "GET /api/rebuild": {},
    "POST /api/rebuild": { body: { root: "frames", folder: "elsewhere" } },
    "POST /api/projects/[project]/take-in/look": {
      path: film,
      body: { root: "frames", folder: "elsewhere" },
    },
    "POST /api/projects/[project]/take-in": {
      path: film,
      body: {
        ...{ root: "frames", folder: "elsewhere", code: "TR9", title: null, isDry: true },
        sequences: [{ folder: "", prefix: "a.", suffix: ".png", camera: "main", pass: "beauty" }],
        rate: { numerator: 24, denominator: 1 },
        ...{ alpha: "none", isLinear: false },
      },
    },
    "POST /api/projects/[project]/shots": { path: film, body: { wishes: [shotWish], isDry: true } },
    "POST /api/projects/[project]/shots/list": {
      path: film,
      body: { text: "code,first,last\nTR6,1,2\n", isDry: true },
    },
    "POST /api/projects/[project]/shots/edit": {
      path: film,
      body: {
        name: "cut.edl",
        text: "TITLE: CUT\n001  TR7  V  C  00:00:00:01 00:00:00:03 01:00:00:00 01:00:00:02\n",
        handles: 2,
        isDry: true,
      },
    },
    "PATCH /api/projects/[project]/shots/[code]": {
      path: { ...film, code: "TR1" },
      body: {
        title: "changed",
        firstFrame: 1,
        lastFrame: 6,
        markers: [{ name: "m", first: 1, end: 3 }],
        sound: { path: "scenes/gulls.wav", offset: 0.5 },
      },
    },
    "DELETE /api/projects/[project]/shots/[code]": { path: { ...film, code: "TR2" } },
    "POST /api/projects/[project]/shots/[code]/copies": {
      path: { ...film, code: "TR1" },
      body: { code: "TR8" },
    },
    "GET /api/projects/[project]/shots": { path: { project: "test-film" }, query: { only: "HO1,HO2" } },
    "POST /api/projects/[project]/edits": {
      path: { project: "test-film" },
      body: {
        name: "cut.edl",
        text: "TITLE: CUT\nFCM: NON-DROP FRAME\n\n001  HO2  V  C  00:00:00:01 00:00:00:03 01:00:00:00 01:00:00:02\n",
      },
    },
    // There is one from here on.
    "GET /api/projects/[project]/edits": { path: { project: "test-film" } },
    "GET /api/projects/[project]/handovers": { path: { project: "test-film" } },
    "POST /api/projects/[project]/handovers": {
      path: { project: "test-film" },
      body: { as: "page", gaps: "card" },
    },
    "POST /api/projects/[project]/handovers/outlook": {
      path: { project: "test-film" },
      body: { as: "movie", gaps: "card", movie: { percent: 50 } },
    },
    "GET /api/handovers/[id]": { path: id(given) },
    "GET /api/handovers/[id]/file": { path: id(given) },
    "GET /api/handovers/[id]/log": { path: id(given) },
    "POST /api/handovers/[id]/again": { path: id(given) },
    "POST /api/handovers/[id]/stop": { path: id(await ask()) },
    "DELETE /api/handovers/[id]": { path: id(givenToo) },
    "GET /api/projects/[project]/shots/[code]": {
      path: shot,
      query: { version: "v001", camera: "main", pass: "beauty" },
    },
    "GET /api/projects/[project]/shots/[code]/patch": { path: shot },
    "GET /api/projects/[project]/shots/[code]/motion": {
      path: shot,
      query: { scene: PLAN.scene, camera: "main", first: "1", last: "2" },
    },
    "POST /api/projects/[project]/shots/[code]/plan": {
      path: { ...shot, code: "HO5" },
      body: { versionId: fifth.versionId, basedOn: 1, plan: { ...PLAN, frames: "1-2", samples: 5 } },
    },
    "GET /api/projects/[project]/shots/[code]/revisions": {
      path: shot,
      query: { version: String(used.versionId) },
    },
    "GET /api/projects/[project]/shots/[code]/scene": { path: shot, query: { path: PLAN.scene } },
    "GET /api/projects/[project]/shots/[code]/sound": { path: shot },
    "GET /api/projects/[project]/shots/[code]/thumbnail": {
      path: shot,
      query: { scene: PLAN.scene, camera: "main", time: "1", v: "x" },
    },
    "POST /api/projects/[project]/shots/[code]/versions": {
      path: shot,
      body: { plan, purpose: "final", fromRevisionId: null },
    },
    "POST /api/runs/[id]/change": { path: id(going), body: { priority: 1, phrase: "1-6", policy: "fill" } },
    "GET /api/runs/[id]/hand-out": { path: id(handedOut) },
    "POST /api/runs/[id]/hand-out/take-back": { path: id(handedOut), body: { machine: "barge" } },
    "GET /api/runs/[id]/log": { path: id(going), query: { node: "", search: "started" } },
    "GET /api/runs/[id]/pace": { path: id(going) },
    "POST /api/runs/[id]/put-back": {
      path: id(going),
      body: { leadId: fourth.sequenceId, frame: lease.frame },
    },
    "POST /api/runs/[id]/resume": { path: id(stopped) },
    "POST /api/runs/[id]/resume-newest": { path: id(stoppedToo) },
    "POST /api/runs/[id]/cluster": { path: id(going), body: {}, isRefused: 409 },
    "DELETE /api/runs/[id]/cluster": { path: id(going), isRefused: 409 },
    "POST /api/runs/[id]/stop": { path: id(going), body: { how: "after-frames" } },
    "GET /api/runs/[id]/summary": { path: id(going) },
    "GET /api/sequences/[id]": { path: id(sequenceId) },
    "GET /api/sequences/[id]/aside": { path: id(sequenceId) },
    "POST /api/sequences/[id]/check": { path: id(sequenceId) },
    "DELETE /api/sequences/[id]/check": { path: id(sequenceId) },
    "POST /api/sequences/[id]/log-facts": {
      path: id(watched!.id),
      body: { frames: [{ frame: 1, node: "barge", seconds: 4.5, message: "no texture" }] },
    },
    "GET /api/sequences/[id]/handovers": { path: id(sequenceId) },
    "POST /api/sequences/[id]/handovers": { path: id(sequenceId), body: movie },
    "POST /api/sequences/[id]/handovers/outlook": { path: id(sequenceId), body: movie },
    "POST /api/sequences/[id]/flags": { path: id(sequenceId), body: { phrase: "1", reason: "too dark" } },
    "DELETE /api/sequences/[id]/flags": { path: id(sequenceId), body: { phrase: "1" } },
    "GET /api/sequences/[id]/frames/[frame]": frame,
    "GET /api/sequences/[id]/frames/[frame]/before": { ...frame, query: { file: before } },
    "GET /api/sequences/[id]/frames/[frame]/change": frame,
    "GET /api/sequences/[id]/frames/[frame]/history": frame,
    "GET /api/sequences/[id]/frames/[frame]/log": { ...frame, query: { search: "" } },
    "GET /api/sequences/[id]/frames/[frame]/so-far": { path: { id: fourth.sequenceId, frame: lease.frame } },
    "DELETE /api/sequences/[id]/leftovers": { path: id(sequenceId), body: wish },
    "GET /api/sequences/[id]/circumstances": { path: id(sequenceId) },
    "GET /api/sequences/[id]/measures": { path: id(sequenceId) },
    "GET /api/sequences/[id]/odd": { path: id(sequenceId) },
    "POST /api/sequences/[id]/odd/judge": {
      path: id(sequenceId),
      body: { judgement: "dismiss", of: [{ frame: 1, code: "not-a-number" }], why: "of its kind" },
    },
    // Of a shot that `known` does not watch: other figures are right ones, too.
    "POST /api/sequences/[id]/odd/thresholds": {
      path: id(watched!.id),
      body: USUAL_THRESHOLDS,
    },
    "DELETE /api/sequences/[id]/odd/thresholds": { path: id(watched!.id) },
    "POST /api/sequences/[id]/preflight": { path: id(sequenceId), body: wish },
    "GET /api/sequences/[id]/proofs": { path: id(sequenceId) },
    "POST /api/sequences/[id]/proofs": {
      path: id(sequenceId),
      body: { phrase: "4", plan, nodes: ["crane"], strip: null },
    },
    "GET /api/sequences/[id]/proofs/[run]/[frame]": { path: { id: sequenceId, run: proof, frame: 3 } },
    "POST /api/sequences/[id]/proofs/[run]/use": { path: { id: sequenceId, run: proof } },
    "POST /api/sequences/[id]/replaced": { path: id(sequenceId), body: { decision: "undo", phrase: "1" } },
    "POST /api/sequences/[id]/runs": { path: id(sequenceId), body: { ...wish, nodes: ["crane"], batch: 1 } },
    "DELETE /api/versions/[id]": { path: id(empty.revision.versionId) },
    "POST /api/sequences/[id]/discards": {
      path: id(sequenceId),
      body: { what: ["samples", "extra"], phrase: "90-99", scope: "sequence", isDry: false },
    },
    "POST /api/versions/[id]/status": { path: id(sixth.revision.versionId), body: { decision: "choose" } },
  } satisfies Record<string, Valid>);
  const started = await stage.startServer();
  address = started.address;
  server = started.process.pid!;
});
afterAll(async () => {
  await stage.strike();
  await closePool();
});

/** The address with its parts put in as they are: tricks come encoded or not. */
const addressOf = (
  route: string,
  parts: Valid["path"] = {},
  query: Valid["query"] = {},
  encode: (text: string) => string = encodeURIComponent,
): string => {
  const where = route.replace(/\[(\w+)\]/g, (_, name: string) => encode(String(parts[name])));
  const asked = new URLSearchParams(query).toString();
  return `${address}${where}${asked === "" ? "" : `?${asked}`}`;
};

/** Of a request, in the message of its failure. */
const LONGEST_TOLD = 1_500;

async function send(
  method: Method,
  url: string,
  body: string | undefined,
  headers: Record<string, string> = {},
) {
  const stop = new AbortController();
  const answer = await fetch(url, {
    method,
    signal: stop.signal,
    ...(body === undefined ? {} : { body }),
    headers: { "content-type": "application/json", ...headers },
  });
  // The stream of news has no end.
  const text = answer.headers.get("content-type") === "text/event-stream" ? "" : await answer.text();
  stop.abort();
  return { status: answer.status, text, sent: `${url} ${body ?? ""}`.slice(0, LONGEST_TOLD) };
}

const jsonOf = (body: unknown): string | undefined => (body === undefined ? undefined : JSON.stringify(body));

/**
 * Neighbours share the list between them: three fields of a body meet all of it together. What a field of its
 * own lets through is told by the unit tests of its schema; here it is the way behind it that is tried.
 */
const everyThird = <T>(all: readonly T[], place: number): readonly T[] =>
  all.filter((_, i) => (i + place) % 3 === 0);

/** Every body that differs from the valid one in one thing. */
function* wrongBodies(body: unknown): Generator<string> {
  yield* WHOLE_BODIES;
  if (typeof body !== "object" || body === null) return;
  const spots = function* (
    value: unknown,
    at: readonly (string | number)[],
  ): Generator<readonly (string | number)[]> {
    if (at.length > 0) yield at;
    if (typeof value === "object" && value !== null)
      for (const key of Object.keys(value))
        yield* spots((value as Record<string, unknown>)[key], [...at, key]);
  };
  const changed = (
    at: readonly (string | number)[],
    change: (owner: Record<string, unknown>, key: string) => void,
  ): string => {
    const copy = structuredClone(body) as Record<string, unknown>;
    let owner = copy;
    for (const key of at.slice(0, -1)) owner = owner[key] as Record<string, unknown>;
    change(owner, String(at.at(-1)));
    return JSON.stringify(copy);
  };
  for (const [i, at] of [...spots(body, [])].entries()) {
    for (const trick of everyThird(TRICKS, i)) yield changed(at, (owner, key) => void (owner[key] = trick));
    yield changed(at, (owner, key) => void delete owner[key]);
    yield JSON.stringify(structuredClone(body)).replace(
      JSON.stringify(String(at.at(-1))),
      `"__proto__":{"polluted":true},${JSON.stringify(String(at.at(-1)))}`,
    );
  }
  yield JSON.stringify({ ...body, surplus: 1 });
}

/** What a route is asked, one thing wrong at a time. */
function* wrongRequests(
  method: Method,
  route: string,
  valid: Valid,
): Generator<() => ReturnType<typeof send>> {
  const body = jsonOf(valid.body);
  for (const name of Object.keys(valid.path ?? {})) {
    for (const trick of TEXT_TRICKS)
      yield () => send(method, addressOf(route, { ...valid.path, [name]: trick }, valid.query), body);
    for (const raw of RAW_TRICKS)
      yield () =>
        send(
          method,
          addressOf(route, { ...valid.path, [name]: raw }, valid.query, (text) => text),
          body,
        );
  }
  for (const name of Object.keys(valid.query ?? {})) {
    for (const trick of TEXT_TRICKS)
      yield () => send(method, addressOf(route, valid.path, { ...valid.query, [name]: trick }), body);
    const { [name]: _gone, ...rest } = valid.query!;
    yield () => send(method, addressOf(route, valid.path, rest), body);
  }
  if (valid.body !== undefined)
    for (const wrong of wrongBodies(valid.body))
      yield () => send(method, addressOf(route, valid.path, valid.query), wrong);
  const headers: Record<string, string>[] = [
    { "content-type": "text/plain" },
    { "content-type": "multipart/form-data; boundary=" },
    { range: "bytes=999999999999-" },
    { "if-none-match": "*", "if-modified-since": "never" },
    { cookie: `a=${"b".repeat(10_000)}` },
    { "accept-language": "x".repeat(5_000) },
  ];
  if (method === "GET")
    for (const more of headers)
      yield () => send(method, addressOf(route, valid.path, valid.query), body, more);
}

const memoryMb = async (): Promise<number> => {
  const status = await fs.readFile(`/proc/${server}/status`, "utf8");
  return Number(/VmRSS:\s+(\d+)/.exec(status)![1]) / 1_000;
};

/** What one large input may leave behind in the server's memory, all of them together. */
const MOST_MEMORY_MB = 700;

test("every route is asked here, and nothing that is no route", async () => {
  const routes = await handlers();
  expect(routes.length).toBeGreaterThan(40);
  expect(Object.keys(requests).sort()).toEqual(routes);
});

/** They end, change or remove what others need: asked as they should be when the tricks are over. */
const LAST = [
  "DELETE /api/versions/[id]",
  "DELETE /api/projects/[project]",
  "DELETE /api/projects/[project]/shots/[code]",
  "DELETE /api/presets/[id]",
  "DELETE /api/sequences/[id]/flags",
  "POST /api/sequences/[id]/replaced",
  "POST /api/runs/[id]/put-back",
  "POST /api/runs/[id]/hand-out/take-back",
  "POST /api/runs/[id]/cluster",
  "DELETE /api/runs/[id]/cluster",
  "POST /api/runs/[id]/stop",
];

/** Those that are refused though nothing is wrong with them. */
async function refusedAmong(names: readonly string[]): Promise<readonly string[]> {
  const refused: string[] = [];
  for (const name of names) {
    const { path: parts, query, body, isRefused } = requests[name]!;
    const [method, route] = name.split(" ") as [Method, string];
    const { status, text } = await send(method, addressOf(route, parts, query), jsonOf(body));
    if (status >= 400 && status !== isRefused) refused.push(`${name}: ${status} ${text.slice(0, 200)}`);
  }
  return refused;
}

test("what each begins with succeeds", async () => {
  const names = Object.keys(requests).filter((name) => !LAST.includes(name));
  expect(await refusedAmong(names)).toEqual([]);
});

test("one wrong thing at a time: no answer is a fault of the server, and nothing that is known changes", async () => {
  const before = await known();
  const faults: string[] = [];
  const silent: string[] = [];
  const limit = pLimit(4);
  let asked = 0;
  for (const [name, valid] of Object.entries(requests)) {
    const [method, route] = name.split(" ") as [Method, string];
    const check = async (ask: () => ReturnType<typeof send>): Promise<void> => {
      const { status, text, sent } = await ask();
      asked++;
      if (status >= 500) faults.push(`${name}: ${status} ${text.slice(0, 200)} ${sent}`);
      // What is refused is refused in words; but for what the server refuses before it is a request of ours.
      if (status >= 400 && status < 500 && ![404, 405, 431].includes(status) && !/"message":".+"/.test(text))
        silent.push(`${name}: ${status} ${text.slice(0, 100)}`);
    };
    await Promise.all([...wrongRequests(method, route, valid)].map((ask) => limit(() => check(ask))));
  }
  expect([...new Set(faults)].slice(0, 20)).toEqual([]);
  expect([...new Set(silent)].slice(0, 20)).toEqual([]);
  expect(asked).toBeGreaterThan(2_000);
  expect(await known()).toEqual(before);
  expect(await memoryMb()).toBeLessThan(MOST_MEMORY_MB);
}, 600_000);

test("a body of 12 MB is read whole, and not its beginning as if it were all", async () => {
  const text = `TITLE: LONG\n${"* a remark\n".repeat(1_100_000)}`;
  expect(text.length).toBeGreaterThan(12_000_000);
  const url = addressOf("/api/projects/[project]/edits", { project: "test-film" });
  const { status, text: answer } = await send("POST", url, JSON.stringify({ name: "long.edl", text }));
  expect([status, JSON.parse(answer)]).toMatchObject([422, { error: { code: "edit-unreadable" } }]);
});

/** Processor time of the server with all its threads, in hundredths of a second. */
async function serverTicks(): Promise<number> {
  const stat = await fs.readFile(`/proc/${server}/stat`, "utf8");
  const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
  return Number(fields[11]) + Number(fields[12]);
}

/** Texts that have cost more than their length, so long. */
const GROWING: readonly ((length: number) => string)[] = [
  (n) => `marker(${" ".repeat(n)}x`,
  (n) => "1-999999999/2,".repeat(n / 14),
  (n) => "{".repeat(n),
  (n) => "0-9".repeat(n / 3),
];
/** An address has less room than a body. */
const SHORT = { body: 3_000, query: 200 };
const ASKED_EACH = 4;
/** A dozen times the work for ten times the length; the system counts it in ticks, and some are not ours. */
const MOST_GROWTH = 12;
const TICKS_UNSEEN = 2;

/** Of each text in a request, the same request with another text there. */
function* withText(
  method: Method,
  route: string,
  valid: Valid,
): Generator<(text: (length: number) => string, times: number) => ReturnType<typeof send>> {
  for (const name of Object.keys(valid.query ?? {}))
    yield (text, times) =>
      send(
        method,
        addressOf(route, valid.path, { ...valid.query, [name]: text(SHORT.query * times) }),
        jsonOf(valid.body),
      );
  const spots = function* (value: unknown, at: readonly string[]): Generator<readonly string[]> {
    if (typeof value === "string") yield at;
    else if (typeof value === "object" && value !== null)
      for (const key of Object.keys(value))
        yield* spots((value as Record<string, unknown>)[key], [...at, key]);
  };
  for (const at of spots(valid.body, []))
    yield (text, times) => {
      const body = structuredClone(valid.body) as Record<string, unknown>;
      let owner = body;
      for (const key of at.slice(0, -1)) owner = owner[key] as Record<string, unknown>;
      owner[at.at(-1)!] = text(SHORT.body * times);
      return send(method, addressOf(route, valid.path, valid.query), JSON.stringify(body));
    };
}

test("for a text ten times as long every route does at most a dozen times the work", async () => {
  const dear: string[] = [];
  let asked = 0;
  for (const [name, valid] of Object.entries(requests)) {
    const [method, route] = name.split(" ") as [Method, string];
    for (const [i, ask] of [...withText(method, route, valid)].entries())
      // Neighbours share these, too: two texts for each.
      for (const text of GROWING.filter((_, k) => (k + i) % 2 === 0)) {
        const ticksOf = async (times: number): Promise<number> => {
          const before = await serverTicks();
          for (let i = 0; i < ASKED_EACH; i++) await ask(text, times);
          return (await serverTicks()) - before;
        };
        asked++;
        let [short, long] = [0, Infinity];
        // What another request or the collector of garbage took counts once, and not in each try.
        for (let i = 0; i < 5 && long > MOST_GROWTH * Math.max(short, TICKS_UNSEEN); i++) {
          short = await ticksOf(1);
          long = Math.min(long, await ticksOf(10));
        }
        if (long > MOST_GROWTH * Math.max(short, TICKS_UNSEEN))
          dear.push(`${name} ${text(30)}: ${short} and ${long} ticks`);
      }
  }
  expect(asked).toBeGreaterThan(100);
  expect(dear).toEqual([]);
});

test("and what would have changed things succeeds after all that", async () => {
  expect(await refusedAmong(LAST)).toEqual([]);
});
