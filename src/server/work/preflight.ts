/** Gathers the facts of a preflight: asks the chosen nodes, looks at disk, scene, names and folders. */
import fs from "node:fs/promises";
import path from "node:path";
import { setTimeout as pause } from "node:timers/promises";
import type { NodeQuestion } from "@/contract/node-request";
import { consequencesOf, guessPassBytes } from "@/core/plan/consequences";
import { canonicalJson, type Json } from "@/core/plan/canonical";
import { checkpointStorage, type ResumeBar, resumeBar, sumsOfPlan } from "@/core/plan/checkpoint";
import { effortSettings, lookSettings } from "@/core/plan/fingerprint";
import { EMPTY, type FrameSet, has, setOf, union, unionAll } from "@/core/frames/frame-set";
import { groupFiles } from "@/core/naming/group-files";
import { fileName } from "@/core/naming/pattern";
import { extensionOf } from "@/core/image/file-format";
import { nameValues } from "@/core/plan/plan";
import { preflight, type NodeReport, type PreflightFacts, type PreflightPoint } from "@/core/plan/preflight";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { insideFolder, projectFolder, versionFolder } from "../files/paths";
import { readRenderSources, type RenderSources } from "../files/scene-files";
import { LEASE_SECONDS } from "../queue/lease";
import { answersTo, askNode } from "../store/node-requests";
import { listNodes } from "../store/nodes";
import { listHeldSettings } from "../store/checkpoints";
import { listFiles } from "../store/frame-files";
import { type SequenceRow, shotByCode } from "../store/shots";
import { folderOf } from "./folder-state";
import { type DecidedSequence, decideRun, type RunRequest } from "./start-run";

/** Nodes answer with their heartbeat, every 0.7 s; hashing large textures takes longer. */
const PATIENCE_MS = 6_000;
const LOOK_MS = 100;

/** Free bytes where a sequence lies; null where the system does not say. */
export async function freeBytesOf(sequence: SequenceRow): Promise<number | null> {
  try {
    const { bavail, bsize } = await fs.statfs(projectFolder(sequence));
    return bavail * bsize;
  } catch {
    return null;
  }
}

async function askNodes(sequence: SequenceRow, onDisk: RenderSources | null, scenePath: string, wanted: readonly string[] | null): Promise<NodeReport[]> {
  const awake = (await listNodes(pool())).filter((n) => (wanted === null ? !n.stopped && n.secondsSinceSeen < LEASE_SECONDS : wanted.includes(n.name)));
  const project = projectFolder(sequence);
  const files: NodeQuestion["files"] = onDisk === null ? [] : [
    { path: scenePath, name: path.basename(scenePath), content: onDisk.sources.scene },
    ...[...onDisk.textures].map(([name, place]) => ({ path: path.relative(project, place), name, content: onDisk.sources.files[name]! })),
  ];
  const question: NodeQuestion = { root: sequence.root, folder: sequence.folder, version: versionFolder(sequence.shot, sequence), files };
  const asked = new Map<number, string>();
  for (const node of awake) asked.set(await askNode(pool(), node.id, question), node.name);
  const deadline = performance.now() + PATIENCE_MS;
  let answers = await answersTo(pool(), [...asked.keys()]);
  while (answers.size < asked.size && performance.now() < deadline) {
    await pause(LOOK_MS);
    answers = await answersTo(pool(), [...asked.keys()]);
  }
  const known = new Set(awake.map((n) => n.name));
  const never = (wanted ?? []).filter((name) => !known.has(name));
  return [...[...asked].map(([id, node]) => ({ node, answer: answers.get(id) ?? null })), ...never.map((node) => ({ node, answer: null }))];
}

/** Sequences in the folders that are not the plan's, and temporary files that nobody writes any more. */
async function strayFiles(decided: readonly DecidedSequence[]): Promise<Pick<PreflightFacts, "foreign" | "leftovers">> {
  const foreign: { folder: string; names: string[] }[] = [];
  const leftovers: string[] = [];
  for (const { state: { sequence, read, tally } } of decided) {
    const names = await fs.readdir(folderOf(sequence)).catch(() => []);
    const found = groupFiles(names.map((name) => ({ name, bytes: 0 })));
    const own = (frame: number): string => fileName(read.pattern, nameValues(sequence.project, sequence.shot, sequence), frame, extensionOf(read.plan.file));
    const others = found.sequences.filter((group) => !group.files.some((f) => f.name === own(f.frame)));
    if (others.length > 0) foreign.push({ folder: path.join(sequence.camera, sequence.pass), names: others.map((g) => g.name) });
    // While frames of it render, their temporary files belong there.
    if (tally.activities.rendering.count === 0) leftovers.push(...found.leftovers.map((name) => path.join(sequence.camera, sequence.pass, name)));
  }
  return { foreign, leftovers };
}

/** Bytes that the frames will take: by what the sequence's own files take, else by format and size; and their checkpoints. */
async function bytesNeeded(decided: readonly DecidedSequence[], nodes: number): Promise<number> {
  let bytes = 0;
  for (const { state: { sequence, read }, decision } of decided) {
    const files = (await listFiles(pool(), sequence.id)).filter((f) => f.verdict === "good");
    const each = files.length > 0 ? files.reduce((sum, f) => sum + f.bytes, 0) / files.length : guessPassBytes(read.plan, sequence.pass);
    bytes += each * decision.toRender.count;
  }
  const [any] = decided;
  if (any === undefined) return 0;
  const { plan } = any.state.read;
  const frames = unionAll(decided.map((d) => d.decision.toRender)).count;
  return Math.round(bytes + checkpointStorage(plan, frames, nodes));
}

/** Saved samples of the frames to render, and whether the saved plan may go on from them. */
async function heldSamples(decided: readonly DecidedSequence[]): Promise<PreflightFacts["held"]> {
  let usable = 0;
  const barred = new Map<string, { frames: FrameSet; readonly bar: ResumeBar }>();
  for (const { state: { sequence, read: { plan }, sources } } of decided) {
    // Samples belong to a camera's frame; told once, with its beauty.
    if (sequence.pass !== "beauty" || sources === null) continue;
    const toRender = unionAll(decided.filter((d) => d.state.sequence.camera === sequence.camera).map((d) => d.decision.toRender));
    const wanted = { look: { ...lookSettings(plan, sources, "beauty"), camera: sequence.camera }, effort: effortSettings(plan), ...sumsOfPlan(plan) };
    for (const held of await listHeldSettings(pool(), sequence.id)) {
      if (!has(toRender, held.frame)) continue;
      const bar = resumeBar(held, wanted);
      if (bar === null) usable++;
      else {
        const key = canonicalJson(bar as unknown as Json);
        const known = barred.get(key);
        barred.set(key, { bar, frames: union(known?.frames ?? EMPTY, setOf([held.frame])) });
      }
    }
  }
  return { usable, barred: [...barred.values()] };
}

export async function preflightRun(request: RunRequest): Promise<readonly PreflightPoint[]> {
  const decided = await decideRun(request);
  const focus = decided.find((d) => d.state.sequence.id === request.sequenceId) ?? decided[0];
  if (focus === undefined) throw new TallyError("sequence-unknown", "The saved plan asks for no such sequence.");
  const { sequence, read } = focus.state;
  const onDisk = await readRenderSources(await insideFolder(projectFolder(sequence), read.plan.scene), read.plan.renderer).catch((error: unknown) => {
    if (error instanceof TallyError) return error;
    throw error;
  });
  const isReadable = !(onDisk instanceof TallyError);
  const shot = await shotByCode(pool(), sequence.shot);
  const follows = consequencesOf(read, { project: sequence.project, shot: sequence.shot, version: sequence.version, purpose: sequence.purpose, markers: shot?.markers ?? [], files: EMPTY });
  const sum = (count: (d: DecidedSequence) => number): number => decided.reduce((all, d) => all + count(d), 0);
  const nodes = await askNodes(sequence, isReadable ? onDisk : null, read.plan.scene, request.nodes);
  return preflight({
    cameras: [...new Set(decided.map((d) => d.state.sequence.camera))], passes: [...new Set(decided.map((d) => d.state.sequence.pass))],
    scene: isReadable ? { cameras: onDisk.cameras ?? read.plan.cameras, files: onDisk.textures.size + 1 } : { fault: onDisk.message },
    nodes, hazards: follows.hazards, notes: follows.notes, policy: request.policy,
    render: sum((d) => d.decision.toRender.count), keep: sum((d) => d.decision.keep.reduce((n, k) => n + k.frames.count, 0)),
    replaceGood: sum((d) => d.decision.render.filter((r) => r.reason === "good").reduce((n, r) => n + r.frames.count, 0)),
    needBytes: await bytesNeeded(decided, nodes.length), freeBytes: await freeBytesOf(sequence), ...(await strayFiles(decided)), held: await heldSamples(decided),
  });
}

/** Removes temporary files that the preflight named: only such, and only while nothing of the sequence renders. */
export async function removeLeftovers(request: RunRequest): Promise<{ readonly removed: number }> {
  const decided = await decideRun(request);
  const { leftovers } = await strayFiles(decided);
  const [any] = decided;
  for (const name of leftovers) await fs.rm(path.join(folderOf(any!.state.sequence), "../..", name), { force: true });
  return { removed: leftovers.length };
}
