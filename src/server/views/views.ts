/** Views of the data for the pages: what the store knows, packed as the contract says. */
import fs from "node:fs/promises";
import path from "node:path";
import { packSet, packTally } from "@/core/tally/packed";
import { versionName, type VersionKey } from "@/core/plan/plan";
import { goesOn } from "@/contract/run-state";
import type {
  FileColumns,
  FindingView,
  HeldColumns,
  LogLine,
  RevisionView,
  RunPaceView,
  RunView,
  SceneView,
  SequenceChoice,
  SequenceView,
  ShotLine,
  ShotsView,
  ShotView,
} from "@/contract/views";
import { type FrameSet, memberAt, setOf } from "@/core/frames/frame-set";
import { estimateFinish, framesAMinute } from "@/core/estimate/finish";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { projectFolder } from "../files/paths";
import { editUseOfShot } from "../store/edits";
import type { CheckpointRow } from "../store/checkpoints";
import { closedFindings, type FindingRow } from "../store/findings";
import type { FileRow } from "../store/frame-files";
import {
  endedFrames,
  lightingCounts,
  type LogFilter,
  logOfFrame,
  logOfRun,
  type LogRow,
  runById,
  type RunCounts,
  runCounts,
  type RunRow,
  runsOfVersion,
} from "../store/runs";
import { versionsOfRun } from "../store/run-versions";
import {
  latestRevision,
  listProjects,
  listShots,
  listVersions,
  projectById,
  revisionById,
  revisionsOfVersion,
  sequencesOfVersion,
  versionById,
  type SequenceRow,
  shotByCode,
} from "../store/shots";
import { rendererNames } from "../scenes/renderers";
import { checkJobs } from "../folder/check-jobs";
import { asideFiles, asideFolderOf } from "../folder/aside";
import { folderOf } from "../folder/folder-state";
import { currentSequence } from "./current-sequence";
import { hasFiles } from "../actions/save-plan";
import { sceneOfShot, versionOfScene } from "./thumbnails";
import { loadSequence, loadVersion, requireSequence } from "./tally";

const PACE_FRAMES = 12;
const RUNS_SHOWN = 20;
const LOG_LINES = 200;
const POSTER_AT = 2 / 3;

async function paceOf(run: RunRow, counts: RunCounts): Promise<RunPaceView> {
  const recent = await endedFrames(pool(), run.id, PACE_FRAMES);
  const left = run.state === "stopping" ? counts.leased : counts.waiting + counts.leased;
  const finish =
    goesOn(run.state) && run.state !== "halting"
      ? estimateFinish({ left, recent, lanes: counts.leased })
      : null;
  return {
    secondsAFrame: recent.length === 0 ? null : recent.reduce((sum, r) => sum + r.seconds, 0) / recent.length,
    framesAMinute: counts.leased === 0 ? null : framesAMinute(recent),
    likelyFinish: finish === null ? null : Date.now() + finish.likelySeconds * 1000,
    lateFinish: finish === null ? null : Date.now() + finish.lateSeconds * 1000,
  };
}

export async function viewPace(runId: number): Promise<RunPaceView> {
  const run = await runById(pool(), runId);
  if (run === null) throw new TallyError("run-unknown", "This run does not exist.");
  return paceOf(run, await runCounts(pool(), runId));
}

async function viewRun(run: RunRow): Promise<RunView> {
  const [counts, covered] = await Promise.all([runCounts(pool(), run.id), versionsOfRun(pool(), run.id)]);
  const [pace, lighting] = await Promise.all([
    paceOf(run, counts),
    run.lights ? lightingCounts(pool(), run.id) : null,
  ]);
  const left = counts.waiting + counts.leased;
  return {
    ...pace,
    id: run.id,
    versions: covered.map(versionName),
    state: run.state,
    policy: run.policy,
    wanted: run.wanted,
    nodes: run.nodes,
    order: run.order,
    priority: run.priority,
    startAt: run.startAt?.getTime() ?? null,
    stopAt: run.stopAt?.getTime() ?? null,
    batch: run.batch,
    lighting,
    isHandedOut: run.handout !== null,
    held: run.held,
    total: left + counts.done + counts.failed,
    done: counts.done,
    failed: counts.failed,
    left,
    createdAt: run.createdAt.getTime(),
    endedAt: run.endedAt?.getTime() ?? null,
  };
}

/** The run that matters now: one that goes on, else the newest that was stopped with frames left. */
async function runOnShow(versionId: number): Promise<RunView | null> {
  const runs = await runsOfVersion(pool(), versionId, "sequence", RUNS_SHOWN);
  const run = runs.find((r) => goesOn(r.state)) ?? (runs[0]?.state === "stopped" ? runs[0] : undefined);
  return run === undefined ? null : viewRun(run);
}

const contentOf = (file: FileRow): string => file.content?.slice(0, 16) ?? "";

/** The good picture nearest to where the shot is two thirds over; once it is there, it stays. */
function posterOf(sequenceId: number, files: readonly FileRow[], asked: FrameSet): ShotLine["poster"] {
  const wanted = memberAt(asked, Math.floor(asked.count * POSTER_AT)) ?? 0;
  const distance = (file: FileRow): number => Math.abs(file.frame - wanted);
  const file = files
    .filter((f) => f.verdict === "good")
    .reduce<FileRow | null>((best, f) => (best === null || distance(f) < distance(best) ? f : best), null);
  return file === null ? null : { sequenceId, frame: file.frame, content: contentOf(file) };
}

async function requireProject() {
  const [project] = await listProjects(pool());
  if (project === undefined) throw new TallyError("project-unknown", "There is no project yet.");
  return project;
}

export async function viewShots(): Promise<ShotsView> {
  const project = await requireProject();
  const shots: ShotLine[] = [];
  for (const shot of await listShots(pool(), project.id)) {
    const sequence = await currentSequence(shot.id);
    if (sequence === null) continue;
    const [state, run] = await Promise.all([loadSequence(sequence.id), runOnShow(sequence.versionId)]);
    shots.push({
      code: shot.code,
      title: shot.title,
      first: shot.firstFrame,
      last: shot.lastFrame,
      version: sequence.version,
      purpose: sequence.purpose,
      camera: sequence.camera,
      pass: sequence.pass,
      sequenceId: sequence.id,
      tally: packTally(state.tally),
      run,
      poster: posterOf(sequence.id, state.files, state.tally.asked),
    });
  }
  return { project: { title: project.title, slug: project.slug, rate: project.rate }, shots };
}

async function sceneFiles(folder: string): Promise<string[]> {
  const found = await fs.readdir(path.join(folder, "scenes"), { withFileTypes: true }).catch(() => []);
  return found
    .filter((f) => f.isFile())
    .map((f) => `scenes/${f.name}`)
    .sort();
}

export async function viewShot(
  code: string,
  wanted: {
    readonly version: VersionKey | null;
    readonly camera: string | null;
    readonly pass: string | null;
  },
): Promise<ShotView> {
  const shot = await shotByCode(pool(), code);
  const project = shot === null ? null : await projectById(pool(), shot.projectId);
  if (shot === null || project === null) throw new TallyError("shot-unknown", `There is no shot ${code}.`);
  const rows: SequenceRow[] = [];
  const versions = await listVersions(pool(), shot.id);
  for (const version of versions) rows.push(...(await sequencesOfVersion(pool(), version.id)));
  const current = await currentSequence(shot.id);
  const version = wanted.version ?? current;
  const ofVersion = rows.filter((s) => s.version === version?.version && s.purpose === version.purpose);
  const revision = ofVersion[0] === undefined ? null : await latestRevision(pool(), ofVersion[0].versionId);
  const camera = wanted.camera ?? revision?.plan.cameras[0];
  const chosen = ofVersion.find((s) => s.camera === camera && s.pass === (wanted.pass ?? "beauty"));
  if (chosen === undefined)
    throw new TallyError("sequence-unknown", `${code} has no such version, camera or pass.`);
  const choice = (s: SequenceRow): SequenceChoice => ({
    id: s.id,
    version: s.version,
    purpose: s.purpose,
    camera: s.camera,
    pass: s.pass,
  });
  return {
    code: shot.code,
    title: shot.title,
    first: shot.firstFrame,
    last: shot.lastFrame,
    markers: shot.markers,
    project: { title: project.title, slug: project.slug, rate: project.rate },
    choices: rows.map(choice),
    versions: versions.map((v) => ({
      id: v.id,
      name: versionName({ version: v.number, purpose: v.purpose }),
      purpose: v.purpose,
      status: v.status,
    })),
    sequence: choice(chosen),
    versionId: chosen.versionId,
    revision: revision!.number,
    revisionId: revision!.id,
    plan: revision!.plan,
    madeFrom: await madeFrom(chosen.versionId),
    edit: await editUseOfShot(pool(), shot.id),
    folder: folderOf(chosen),
    scenes: await sceneFiles(projectFolder(project)),
    renderers: rendererNames(),
    hasFiles: await hasFiles(chosen.versionId),
  };
}

/** Of a rough version: the plan that it was made from. */
async function madeFrom(versionId: number): Promise<ShotView["madeFrom"]> {
  const version = await versionById(pool(), versionId);
  const revision =
    version?.fromRevisionId == null ? null : await revisionById(pool(), version.fromRevisionId);
  const origin = revision === null ? null : await versionById(pool(), revision.versionId);
  return revision === null || origin === null
    ? null
    : {
        version: versionName({ version: origin.number, purpose: origin.purpose }),
        versionId: origin.id,
        plan: revision.plan,
      };
}

const viewFinding = (f: FindingRow): FindingView => ({
  id: f.id,
  frame: f.frame,
  source: f.source,
  code: f.code,
  text: f.text,
  state: f.state,
  createdAt: f.createdAt.getTime(),
  closedAt: f.closedAt?.getTime() ?? null,
});

function columnsOf(files: readonly FileRow[]): FileColumns {
  const nodes = [...new Set(files.flatMap((f) => (f.node === null ? [] : [f.node])))].sort();
  return {
    frames: packSet(setOf(files.map((f) => f.frame))),
    seconds: files.map((f) => (f.seconds === null ? null : Math.round(f.seconds * 100) / 100)),
    luminance: files.map((f) => (f.luminance === null ? null : Math.round(f.luminance * 1e4) / 1e4)),
    node: files.map((f) => (f.node === null ? -1 : nodes.indexOf(f.node))),
    nodes,
    content: files.map(contentOf),
    samples: files.map((f) => f.samples),
    bytes: files.reduce((sum, f) => sum + f.bytes, 0),
  };
}

const heldColumns = (held: readonly CheckpointRow[]): HeldColumns => ({
  frames: packSet(setOf(held.map((c) => c.frame))),
  samples: held.map((c) => c.samples),
  share: held.map((c) => Math.round(c.share * 1e4) / 1e4),
  seconds: held.map((c) => Math.round(c.seconds * 10) / 10),
  bytes: held.reduce((sum, c) => sum + c.bytes, 0),
});

async function asideOf(sequence: SequenceRow): Promise<SequenceView["aside"]> {
  const folder = asideFolderOf(sequence);
  const names = await fs.readdir(folder).catch(() => []);
  const sizes = await Promise.all(
    names.map(async (name) => (await fs.stat(path.join(folder, name)).catch(() => null))?.size ?? 0),
  );
  return {
    count: names.length,
    bytes: sizes.reduce((a, b) => a + b, 0),
    frames: packSet(setOf([...(await asideFiles(sequence)).keys()])),
  };
}

export async function viewSequence(id: number): Promise<SequenceView> {
  const sequence = await requireSequence(id);
  const siblings = await loadVersion(sequence);
  const state = siblings.find((s) => s.sequence.id === id) ?? (await loadSequence(id));
  const [closed, runs, aside] = await Promise.all([
    closedFindings(pool(), id),
    runsOfVersion(pool(), sequence.versionId, "sequence", RUNS_SHOWN),
    asideOf(sequence),
  ]);
  const job = checkJobs().get(id);
  return {
    id,
    tally: packTally(state.tally),
    files: columnsOf(state.files),
    findings: state.findings.map(viewFinding),
    closedFindings: closed.map(viewFinding),
    runs: await Promise.all(runs.map(viewRun)),
    leadId:
      siblings.find((s) => s.sequence.camera === sequence.camera && s.sequence.pass === "beauty")?.sequence
        .id ?? id,
    siblings: siblings.map((s) => ({
      id: s.sequence.id,
      camera: s.sequence.camera,
      pass: s.sequence.pass,
      tally: packTally(s.tally),
    })),
    check: job === undefined ? null : { done: job.done, total: job.total },
    aside,
    held: heldColumns(state.held),
  };
}

const oldestFirst = (lines: readonly LogRow[]): LogLine[] =>
  lines.map((l) => ({ ...l, at: l.at.getTime() })).reverse();

export const viewLog = async (runId: number, filter: LogFilter): Promise<LogLine[]> =>
  oldestFirst(await logOfRun(pool(), runId, LOG_LINES, filter));

/** @param leadId beauty sequence of the frame's camera */
export const viewFrameLog = async (leadId: number, frame: number, search: string): Promise<LogLine[]> =>
  oldestFirst(await logOfFrame(pool(), leadId, frame, LOG_LINES, search));

/** A scene file of the shot's project; one that is not whole is a told error. */
export async function viewScene(code: string, scenePath: string): Promise<SceneView> {
  const onDisk = await sceneOfShot(code, scenePath);
  return {
    cameras: onDisk.scene.cameras.map((c) => c.name),
    lightingEvery: onDisk.scene.lighting?.every ?? null,
    version: versionOfScene(onDisk),
  };
}

export async function viewRevisions(code: string, versionId: number): Promise<readonly RevisionView[]> {
  const [shot, version] = [await shotByCode(pool(), code), await versionById(pool(), versionId)];
  if (version === null || version.shotId !== shot?.id)
    throw new TallyError("version-unknown", "This version does not exist.");
  return (await revisionsOfVersion(pool(), versionId)).map(({ number, plan }) => ({ number, plan }));
}
