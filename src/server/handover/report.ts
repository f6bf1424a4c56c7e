/** The report of a sequence: facts out of the tally, its attempts, findings and handovers. */
import { firstOf } from "@/core/frames/frame-set";
import { formatPhrase } from "@/core/frames/phrase";
import { type ReportFacts, reportPage, type ReportMaker } from "@/core/handover/report-page";
import { wishWord } from "@/core/handover/handover-name";
import { mapValues } from "@/core/tally/packed";
import { sentenceText } from "@/core/tally/sentence";
import { countsOf } from "@/core/tally/tally";
import { scaledSize } from "@/core/plan/picture";
import type { Plan } from "@/core/plan/plan";
import { durationSeconds, rateText } from "@/core/timing/rate";
import { pool } from "../db/pool";
import { attemptsOfLead } from "../store/attempts";
import { closedFindings, type FindingRow } from "../store/findings";
import { handoversOfSequences } from "../store/handovers";
import { projectBySlug } from "../store/projects";
import { fileOf, type Reel, type ReelSource } from "./reel";
import { redoneOf } from "./redone";
import { noWider, smallPictures, type SmallPictures } from "./shown-jpeg";

const PICTURES = 3;
const WIDEST = 480;
const QUALITY = 85;
const HANDOVERS_TOLD = 50;

const fileWord = ({ file }: Plan): string =>
  file.kind === "foreign"
    ? file.format
    : `${file.kind.toUpperCase()}${"depth" in file ? `, ${file.depth}` : ""}`;

function settingsOf({ state }: ReelSource): (readonly [string, string])[] {
  const { plan } = state.read;
  const { width, height } = scaledSize(plan);
  const common: (readonly [string, string])[] = [
    [
      "Plan",
      `revision ${state.revision.number}${state.revision.who === null ? "" : `, saved by ${state.revision.who}`}`,
    ],
    ["Frames a second", rateText(plan.rate)],
    ["Picture", `${width} x ${height}`],
    ["Files", fileWord(plan)],
    ["Alpha", plan.alpha],
  ];
  if (plan.watched !== null) return [...common, ["Rendered", "elsewhere, and taken in"]];
  return [
    ...common,
    ["Scene", plan.scene],
    ["Rendered by", plan.renderer],
    ["Samples", String(plan.samples)],
    ["Time limit a frame", plan.timeLimit === null ? "none" : `${plan.timeLimit} s`],
    ["Passes", plan.passes.join(", ")],
  ];
}

async function makersOf({ sequence, state }: ReelSource): Promise<ReportMaker[]> {
  const lead =
    state.ofVersion.find((s) => s.camera === sequence.camera && s.pass === "beauty")?.id ?? sequence.id;
  const spent = new Map((await attemptsOfLead(pool(), lead)).map((a) => [a.node, a]));
  const names = [...new Set([...spent.keys(), ...Object.keys(state.nodes)])].sort();
  return names.map((node) => ({
    node,
    frames: state.nodes[node]?.count ?? 0,
    madeSeconds: spent.get(node)?.madeSeconds ?? 0,
    lostSeconds: spent.get(node)?.lostSeconds ?? 0,
    failed: spent.get(node)?.failed ?? 0,
  }));
}

const BY = {
  check: "a check",
  node: "its node",
  person: "somebody",
  odd: "the measures, and accepted",
} as const;

const toldFinding = (f: FindingRow) => ({
  frame: f.frame,
  text: f.text,
  by: f.who ?? BY[f.source],
  state: f.state,
  at: f.createdAt.getTime(),
  closedBy: f.closedWho,
  closedAt: f.closedAt?.getTime() ?? null,
});

/** First, middle and last of what there is to be seen. */
async function picturesOf(
  reel: Reel,
  pictures: SmallPictures,
): Promise<{ readonly frame: number; readonly jpeg: string }[]> {
  const there = reel.slots.filter((slot) => slot.kind === "picture" && slot.from === slot.frame);
  const chosen = [...new Set([0, Math.floor((there.length - 1) / 2), there.length - 1])]
    .filter((i) => i >= 0 && i < there.length)
    .slice(0, PICTURES);
  return Promise.all(
    chosen.map(async (i) => ({
      frame: there[i]!.frame!,
      jpeg: (await pictures.of(there[i]!)).toString("base64"),
    })),
  );
}

/** What is shown of the reel; nothing of one that has no picture. */
async function shownOf(
  reel: Reel,
  findings: readonly FindingRow[],
): Promise<Pick<ReportFacts, "pictures" | "redone">> {
  const source = reel.sources[0]!;
  if (reel.size === null)
    return {
      pictures: [],
      redone: await redoneOf(source, findings, () => Promise.reject(new Error("no size"))),
    };
  const pictures = smallPictures(reel, { stops: 0, view: null }, noWider(reel.size, WIDEST), QUALITY);
  try {
    return {
      pictures: await picturesOf(reel, pictures),
      redone: await redoneOf(source, findings, (file) => pictures.ofFile(source, file)),
    };
  } finally {
    await pictures.close();
  }
}

/** @param at milliseconds since 1970 */
export async function reportOf(reel: Reel, at: number): Promise<string> {
  const source = reel.sources[0]!;
  const { sequence, state } = source;
  const { tally } = state;
  const project = await projectBySlug(pool(), sequence.project);
  const findings = [...state.findings, ...(await closedFindings(pool(), sequence.id))];
  const { asked } = tally;
  const first = firstOf(asked);
  return reportPage({
    title: reel.title,
    project: project?.title ?? sequence.project,
    folder: source.folder,
    firstName: first === null ? "" : fileOf(source, first),
    at,
    asked: formatPhrase(asked),
    askedCount: asked.count,
    sentence: sentenceText(countsOf(tally)),
    results: mapValues(tally.results, (set) => ({ frames: formatPhrase(set), count: set.count })),
    bytes: state.files.reduce((sum, file) => sum + file.bytes, 0),
    duration: `${Number(durationSeconds(asked.count, state.read.plan.rate).toFixed(3))} s`,
    settings: settingsOf(source),
    makers: await makersOf(source),
    findings: findings.map(toldFinding).sort((a, b) => a.frame - b.frame || a.at - b.at),
    handovers: (await handoversOfSequences(pool(), [sequence.id], HANDOVERS_TOLD))
      .filter((h) => h.state === "done" && h.result !== null)
      .map((h) => ({ what: wishWord(h.wish), path: h.result!.path, at: h.endedAt!.getTime() })),
    ...(await shownOf(reel, findings)),
  });
}
