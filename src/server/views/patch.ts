/** What is to be rendered again of a shot, and by whom not. */
import type { PatchView } from "@/contract/patch-view";
import { setOf, union, unionAll } from "@/core/frames/frame-set";
import { groupsOf } from "@/core/odd/shared-cause";
import { versionName } from "@/core/plan/plan";
import { leftOut, saysOfRenderer } from "@/core/run/leave-out";
import { patchRanges } from "@/core/run/patch-ranges";
import { packSet } from "@/core/tally/packed";
import { pool } from "../db/pool";
import { readTakers } from "../queue/takers";
import { requireShot } from "../store/find-shot";
import { listNodes } from "../store/nodes";
import { currentSequence } from "./current-sequence";
import { loadVersion, type SequenceState } from "./tally";

/** Frames of each node, over all sequences: one that made a frame made its passes, too. */
function nodesOf(states: readonly SequenceState[]) {
  const nodes: Record<string, ReturnType<typeof setOf>> = {};
  for (const state of states)
    for (const [node, frames] of Object.entries(state.nodes))
      nodes[node] = nodes[node] === undefined ? frames : union(nodes[node], frames);
  return nodes;
}

/** @param name `project/CODE` @throws TallyError `shot-unknown`, `project-unknown` */
export async function viewPatch(name: string): Promise<PatchView> {
  const { shot } = await requireShot(name);
  const main = await currentSequence(shot.id);
  const nothing = { code: shot.code, sequences: [], leftOut: [], nodes: null };
  if (main === null) return { ...nothing, version: null, sequenceId: null, isWatched: false };
  const [states, takers, every] = await Promise.all([
    loadVersion(main),
    readTakers(pool()),
    listNodes(pool()),
  ]);
  const suspects = leftOut(
    unionAll(states.map(({ findings }) => setOf(findings.filter(saysOfRenderer).map((f) => f.frame)))),
    unionAll(states.map(({ files }) => setOf(files.map((file) => file.frame)))),
    groupsOf(nodesOf(states)),
    takers.willing.map((node) => node.name),
  );
  const names = new Set(suspects.map(({ node }) => node));
  return {
    ...nothing,
    version: versionName(main),
    sequenceId: main.id,
    isWatched: main.source !== null,
    sequences: states
      .map(({ sequence: { camera, pass }, tally, findings }) => ({
        camera,
        pass,
        ranges: patchRanges(tally, findings).map((range) => ({ ...range, frames: packSet(range.frames) })),
      }))
      .filter(({ ranges }) => ranges.length > 0),
    leftOut: suspects,
    nodes: suspects.length === 0 ? null : every.map((node) => node.name).filter((node) => !names.has(node)),
  };
}
