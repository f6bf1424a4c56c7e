/** This morning: over all shots, what happened since somebody last looked. */
import type { NewsOfShot, NewsView } from "@/contract/news";
import { setOf } from "@/core/frames/frame-set";
import { handoverNews, type NewHandover, shotNews, type ShotFacts } from "@/core/news/shot-news";
import { versionName } from "@/core/plan/plan";
import { standstillOf } from "@/core/run/standstill";
import { countsOf } from "@/core/tally/tally";
import type { HouseRunView } from "@/contract/runs-view";
import type { RunHeld } from "@/contract/hold";
import { pool } from "../db/pool";
import { awaitedHandovers, type HandoverRow, handoversSince } from "../store/handovers";
import { foundSince, type FrameOfSequence, framesMadeSince, framesMendedSince } from "../store/news";
import { listAllProjects } from "../store/projects";
import { listEverySequence, type SequenceRow } from "../store/shots";
import { listRendering } from "../store/tasks";
import { viewHouseRuns } from "./house-runs";
import { viewNodes } from "./nodes";
import { stateOf } from "./tally";

/** Figures of it stand on the page of the shot. */
const heldSentence = (held: RunHeld): string =>
  held.code === "disk-full" ? "the disk is full" : `every node fails alike: ${held.message}`;

function newHandover(row: HandoverRow): NewHandover | null {
  const name = row.name ?? row.outside ?? "";
  switch (row.state) {
    case "done":
      return { name, state: "done", why: null };
    case "failed":
      return { name, state: "failed", why: row.fault?.message ?? null };
    case "awaiting":
      return row.held === null ? null : { name, state: "awaiting", why: row.held };
    default:
      return null;
  }
}

/** Of a version's camera, under its beauty. */
const keyOf = ({ versionId, camera }: SequenceRow): string => `${versionId}/${camera}`;

class Gathered {
  readonly #keys: ReadonlyMap<number, string>;
  readonly byKey = new Map<string, number[]>();
  constructor(keys: ReadonlyMap<number, string>) {
    this.#keys = keys;
  }
  add({ sequenceId, frame }: FrameOfSequence): void {
    const key = this.#keys.get(sequenceId);
    if (key === undefined) return;
    const known = this.byKey.get(key);
    if (known === undefined) this.byKey.set(key, [frame]);
    else known.push(frame);
  }
  of(key: string) {
    return setOf(new Set(this.byKey.get(key) ?? []));
  }
}

export async function viewNews(since: Date): Promise<NewsView> {
  const until = new Date();
  const [sequences, projects, made, mended, found, ended, awaited, runs, nodes, rendering] =
    await Promise.all([
      listEverySequence(pool()),
      listAllProjects(pool()),
      framesMadeSince(pool(), since),
      framesMendedSince(pool(), since),
      foundSince(pool(), since),
      handoversSince(pool(), since),
      awaitedHandovers(pool()),
      viewHouseRuns(),
      viewNodes(),
      listRendering(pool()),
    ]);
  const keys = new Map(sequences.map((s) => [s.id, keyOf(s)]));
  const leads = new Map<string, SequenceRow>();
  for (const sequence of sequences)
    if (sequence.pass === "beauty" || !leads.has(keyOf(sequence))) leads.set(keyOf(sequence), sequence);
  const gather = (all: readonly FrameOfSequence[]): Gathered => {
    const gathered = new Gathered(keys);
    for (const one of all) gathered.add(one);
    return gathered;
  };
  const [madeBy, mendedBy] = [gather(made), gather(mended)];
  const foundBy = (["check", "node", "person"] as const).map(
    (source) => [source, gather(found.filter((f) => f.source === source))] as const,
  );
  const handovers = new Map<string, NewHandover[]>();
  const ofEdits = new Map<number, NewHandover[]>();
  const add = <K>(to: Map<K, NewHandover[]>, key: K, news: NewHandover): void =>
    void to.set(key, [...(to.get(key) ?? []), news]);
  for (const row of [...ended, ...awaited]) {
    const news = newHandover(row);
    if (news === null) continue;
    const key = row.sequenceId === null ? undefined : keys.get(row.sequenceId);
    if (row.sequenceId === null) add(ofEdits, row.projectId, news);
    else if (key !== undefined) add(handovers, key, news);
  }
  const runsOf = ({ project, shot, ...key }: SequenceRow): readonly HouseRunView[] =>
    [...runs.open, ...runs.ended].filter(
      (r) => r.project === project && r.shot === shot && r.run.versions.includes(versionName(key)),
    );
  const shots: NewsOfShot[] = [];
  for (const [key, sequence] of leads) {
    const own = runsOf(sequence);
    const open = own.filter((r) => runs.open.includes(r));
    const stopped = own.find((r) => r.run.state === "stopped");
    const facts: Omit<ShotFacts, "counts"> = {
      made: madeBy.of(key),
      mended: mendedBy.of(key),
      found: foundBy
        .map(([source, gathered]) => ({ source, frames: gathered.of(key) }))
        .filter((f) => f.frames.count > 0),
      runs: open.map(({ run }) => ({
        id: run.id,
        held: run.held === null ? null : heldSentence(run.held),
        still: standstillOf(
          { ...run, isHeld: run.held !== null },
          rendering.filter((r) => r.runId === run.id).length,
          nodes.nodes,
          until.getTime(),
        ),
      })),
      stoppedLeft: open.length > 0 ? 0 : (stopped?.run.left ?? 0),
      isWatched: sequence.source !== null,
      handovers: handovers.get(key) ?? [],
    };
    // The tally of a shot of which nothing is told is not read: there may be hundreds.
    const isQuiet =
      facts.made.count + facts.mended.count + facts.found.length + facts.runs.length === 0 &&
      facts.stoppedLeft === 0 &&
      facts.handovers.length === 0;
    if (isQuiet) continue;
    const news = shotNews({ ...facts, counts: countsOf((await stateOf(sequence)).tally) });
    if (news === null) continue;
    shots.push({
      ...news,
      project: sequence.project,
      projectTitle: projects.find((p) => p.slug === sequence.project)?.title ?? sequence.project,
      shot: sequence.shot,
      version: versionName(sequence),
    });
  }
  return {
    since: since.toISOString(),
    until: until.toISOString(),
    shots: shots.sort((a, b) => a.project.localeCompare(b.project) || a.shot.localeCompare(b.shot)),
    edits: projects.flatMap(({ id, slug, title }) => {
      const told = ofEdits.get(id);
      return told === undefined ? [] : [{ project: slug, projectTitle: title, ...handoverNews(told) }];
    }),
    nodes: nodes.nodes
      .filter((n) => n.asides.length > 0)
      .map((n) => `${n.name} is set aside${n.asides.some((a) => a.runId === null) ? "" : " from a run"}`),
  };
}

/** As it is asked for. @returns null where it is no time */
export function readSince(text: string): Date | null {
  const time = new Date(text);
  return Number.isNaN(time.getTime()) || time.getTime() < 0 || time.getUTCFullYear() > 9_999 ? null : time;
}
