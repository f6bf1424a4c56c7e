/** One sequence as the shot page shows it: its tally, files, findings and runs, packed by column. */
import fs from "node:fs/promises";
import path from "node:path";
import { packSet, packTally, mapValues } from "@/core/tally/packed";
import { setOf } from "@/core/frames/frame-set";
import { pool } from "../db/pool";
import type { CheckpointRow } from "../store/checkpoints";
import { closedFindings, type FindingRow } from "../store/findings";
import type { FileRow } from "../store/frame-files";
import { runsOfVersion } from "../store/runs";
import { type SequenceRow, requireSequence } from "../store/shots";
import { checkJobs } from "../folder/check-jobs";
import { asideFiles, asideFolderOf } from "../folder/aside";
import { loadSequence, loadVersion } from "./tally";
import { viewRun } from "./runs";
import { contentOf, RUNS_SHOWN } from "./shot";
import type { FileColumns, FindingView, HeldColumns, SequenceView } from "@/contract/sequence-view";

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

const asked = new Map<number, Promise<SequenceView>>();

/** Several pages that ask for one sequence at one moment get one answer: a long sequence is counted once. */
export function viewSequence(id: number): Promise<SequenceView> {
  const open = asked.get(id);
  if (open !== undefined) return open;
  const answer = readSequence(id).finally(() => asked.delete(id));
  asked.set(id, answer);
  return answer;
}

async function readSequence(id: number): Promise<SequenceView> {
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
      nodes: mapValues(s.nodes, packSet),
    })),
    check: job === undefined ? null : { done: job.done, total: job.total },
    aside,
    held: heldColumns(state.held),
  };
}
