/**
 * What frames of a version have become, put into what a page holds of one of its sequences. Pure: the whole
 * answer of the server would say the same.
 */
import type {
  FileColumns,
  FindingView,
  SavedColumns,
  SequenceFrames,
  SequenceView,
  SiblingView,
  VersionChange,
} from "@/contract/sequence-view";
import type { RunView } from "@/contract/run-view";
import { type FrameSet, has } from "@/core/frames/frame-set";
import { ColumnPatch } from "@/core/tally/column-patch";
import { type PackedSet, patchSet, patchTally, unpackSet } from "@/core/tally/packed";

type Nodes = SequenceFrames["nodes"];

/** Frames made by each node; a node without any is left out, as the server leaves it out. */
function patchNodes(before: Nodes, frames: FrameSet, anew: Nodes): Nodes {
  const names = [...new Set([...Object.keys(before), ...Object.keys(anew)])];
  return Object.fromEntries(
    names
      .map((name): [string, PackedSet] => [name, patchSet(before[name] ?? [], frames, anew[name] ?? [])])
      .filter(([, set]) => set.length > 0),
  );
}

/** @param names of all nodes that made a file by now */
function patchFiles(
  before: FileColumns,
  frames: FrameSet,
  anew: FileColumns,
  names: readonly string[],
): FileColumns {
  const patch = new ColumnPatch(unpackSet(before.frames), frames, unpackSet(anew.frames));
  const place = new Map(names.map((name, i) => [name, i]));
  const isSame = names.length === before.nodes.length && names.every((name, i) => before.nodes[i] === name);
  const placeIn = ({ node, nodes }: FileColumns): number[] => node.map((n) => place.get(nodes[n]!) ?? -1);
  return {
    frames: patchSet(before.frames, frames, anew.frames),
    seconds: patch.apply(before.seconds, anew.seconds),
    luminance: patch.apply(before.luminance, anew.luminance),
    noise: patch.apply(before.noise, anew.noise),
    node: patch.apply(isSame ? before.node : placeIn(before), placeIn(anew)),
    nodes: names,
    content: patch.apply(before.content, anew.content),
    samples: patch.apply(before.samples, anew.samples),
    bytes: patch.apply(before.bytes, anew.bytes),
  };
}

/** Saved samples: a frame that is done has none any more, unless its plan keeps them. */
function patchSaved(before: SavedColumns, frames: FrameSet, anew: SavedColumns): SavedColumns {
  const patch = new ColumnPatch(unpackSet(before.frames), frames, unpackSet(anew.frames));
  return {
    frames: patchSet(before.frames, frames, anew.frames),
    samples: patch.apply(before.samples, anew.samples),
    share: patch.apply(before.share, anew.share),
    seconds: patch.apply(before.seconds, anew.seconds),
  };
}

/** @param order as the server gives the whole list */
function patchFindings(
  before: readonly FindingView[],
  frames: FrameSet,
  anew: readonly FindingView[],
  order: (a: FindingView, b: FindingView) => number,
): readonly FindingView[] {
  if (anew.length === 0 && !before.some((f) => has(frames, f.frame))) return before;
  return [...before.filter((f) => !has(frames, f.frame)), ...anew].sort(order);
}

/** As the server gives open findings. */
const byFrame = (a: FindingView, b: FindingView): number => a.frame - b.frame || a.id - b.id;
/** As the server gives closed ones. */
const newestFirst = (a: FindingView, b: FindingView): number =>
  (b.closedAt ?? 0) - (a.closedAt ?? 0) || b.id - a.id;

/** The line of another sequence of the version. */
function patchSibling(sibling: SiblingView, frames: FrameSet, anew: SequenceFrames): SiblingView {
  return {
    ...sibling,
    tally: patchTally(sibling.tally, frames, anew.tally),
    nodes: patchNodes(sibling.nodes, frames, anew.nodes),
  };
}

/** A run that is not known yet is newer than all that are. */
function patchRuns(before: readonly RunView[], anew: readonly RunView[]): readonly RunView[] {
  const fresh = anew.filter((run) => !before.some((r) => r.id === run.id));
  return [...fresh, ...before.map((run) => anew.find((r) => r.id === run.id) ?? run)];
}

/** The view itself where the change is of another version. */
export function applyChange(view: SequenceView, change: VersionChange): SequenceView {
  const own = change.sequences.find((s) => s.id === view.id);
  if (own === undefined) return view;
  const frames = unpackSet(change.frames);
  const nodes = patchNodes(view.nodes, frames, own.nodes);
  return {
    ...view,
    tally: patchTally(view.tally, frames, own.tally),
    files: patchFiles(view.files, frames, own.files, Object.keys(nodes).sort()),
    nodes,
    saved: patchSaved(view.saved, frames, own.saved),
    findings: patchFindings(view.findings, frames, own.findings, byFrame),
    closedFindings: patchFindings(view.closedFindings, frames, own.closedFindings, newestFirst),
    check: own.check,
    runs: patchRuns(view.runs, change.runs),
    siblings: view.siblings.map((sibling) => {
      const anew = change.sequences.find((s) => s.id === sibling.id);
      return anew === undefined ? sibling : patchSibling(sibling, frames, anew);
    }),
  };
}
