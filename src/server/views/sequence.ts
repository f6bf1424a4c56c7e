/**
 * One sequence as the shot page shows it: its tally, files, findings and runs, packed by column.
 * Read in a few statements whatever the length, and packed: a sequence of 100,000 frames travels as
 * columns.
 */
import { packSet, packTally, mapValues } from "@/core/tally/packed";
import { paceOf } from "@/core/estimate/arrivals";
import type {
  ElsewhereView,
  FileColumns,
  FindingView,
  SavedColumns,
  SequenceFrames,
  SequenceView,
} from "@/contract/sequence-view";
import { setOf } from "@/core/frames/frame-set";
import { pool } from "../db/pool";
import type { CheckpointRow } from "../store/checkpoints";
import { closedFindings, type FindingRow, placeOfFinding } from "../store/findings";
import { type FileRow, saidOfFiles } from "../store/frame-files";
import { runsOfVersion } from "../store/runs";
import { requireSequence } from "../store/shots";
import { checkJobs } from "../folder/check-jobs";
import { loadSequence, loadVersion, type SequenceState } from "./tally";
import { viewRun } from "./runs";
import { SharedReads } from "./shared-reads";
import { contentOf, RUNS_SHOWN } from "./shot";
import { markShown } from "./shown-versions";

const viewFinding = (f: FindingRow): FindingView => ({
  id: f.id,
  frame: f.frame,
  source: f.source,
  who: f.who,
  code: f.code,
  text: f.text,
  state: f.state,
  createdAt: f.createdAt.getTime(),
  closedAt: f.closedAt?.getTime() ?? null,
  closedWho: f.closedWho,
  why: f.why,
  place: placeOfFinding(f),
});

function columnsOf(files: readonly FileRow[]): FileColumns {
  const nodes = [...new Set(files.flatMap((f) => (f.node === null ? [] : [f.node])))].sort();
  return {
    frames: packSet(setOf(files.map((f) => f.frame))),
    seconds: files.map((f) => (f.seconds === null ? null : Math.round(f.seconds * 100) / 100)),
    luminance: files.map((f) => (f.luminance === null ? null : Math.round(f.luminance * 1e4) / 1e4)),
    noise: files.map((f) => (f.noise === null ? null : Math.round(f.noise * 1e5) / 1e5)),
    node: files.map((f) => (f.node === null ? -1 : nodes.indexOf(f.node))),
    nodes,
    content: files.map(contentOf),
    samples: files.map((f) => f.samples),
    bytes: files.map((f) => f.bytes),
  };
}

const savedColumns = (saved: readonly CheckpointRow[]): SavedColumns => ({
  frames: packSet(setOf(saved.map((c) => c.frame))),
  samples: saved.map((c) => c.samples),
  share: saved.map((c) => Math.round(c.share * 1e4) / 1e4),
  seconds: saved.map((c) => Math.round(c.seconds * 10) / 10),
});

/**
 * All that is told of the frames that a state was read of. @param closed findings of these frames that are
 * closed
 */
export function viewFrames(state: SequenceState, closed: readonly FindingRow[]): SequenceFrames {
  const job = checkJobs().get(state.sequence.id);
  return {
    id: state.sequence.id,
    tally: packTally(state.tally),
    files: columnsOf(state.files),
    nodes: mapValues(state.nodes, packSet),
    saved: savedColumns(state.saved),
    findings: state.findings.map(viewFinding),
    closedFindings: closed.map(viewFinding),
    check: job === undefined ? null : { done: job.done, total: job.total },
  };
}

/** What a log said: more is in the log itself. */
const SAID_SHOWN = 200;

/** Null where its frames are rendered here. */
async function viewElsewhere({
  sequence,
  claims,
  files,
  tally,
}: SequenceState): Promise<ElsewhereView | null> {
  if (sequence.source === null) return null;
  const held = setOf(claims.filter((c) => !c.isOver).map((c) => c.frame));
  const pace = paceOf(files, tally.asked, held, Date.now());
  return {
    claims: [...claims].sort((a, b) => a.sinceMs - b.sinceMs),
    said: await saidOfFiles(pool(), sequence.id, SAID_SHOWN),
    pace: pace === null ? null : { ...pace, behind: packSet(pace.behind) },
  };
}

const reads = new SharedReads(readSequence);

/** Several pages that ask for one sequence at one moment get one answer: a long sequence is counted once. */
export const viewSequence = (id: number): Promise<SequenceView> => reads.ask(id);

async function readSequence(id: number): Promise<SequenceView> {
  const sequence = await requireSequence(id);
  markShown(sequence.versionId);
  const siblings = await loadVersion(sequence);
  const state = siblings.find((s) => s.sequence.id === id) ?? (await loadSequence(id));
  const [closed, runs] = await Promise.all([
    closedFindings(pool(), id),
    runsOfVersion(pool(), sequence.versionId, "sequence", RUNS_SHOWN),
  ]);
  return {
    ...viewFrames(state, closed),
    runs: await Promise.all(runs.map(viewRun)),
    leadId:
      siblings.find((s) => s.sequence.camera === sequence.camera && s.sequence.pass === "beauty")?.sequence
        .id ?? id,
    elsewhere: await viewElsewhere(state),
    siblings: siblings.map((s) => ({
      id: s.sequence.id,
      camera: s.sequence.camera,
      pass: s.sequence.pass,
      tally: packTally(s.tally),
      nodes: mapValues(s.nodes, packSet),
    })),
  };
}
