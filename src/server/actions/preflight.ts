/** Gathers the facts of a preflight: asks the chosen nodes, looks at disk, scene, names and folders. */
import fs from "node:fs/promises";
import path from "node:path";
import type { ReadyQuestion } from "@/contract/node-request";
import { consequencesOf } from "@/core/plan/consequences";
import { canonicalJson, asJson } from "@/core/plan/canonical";
import { checkpointStorage, type ResumeBar, resumeBar, sumsOfPlan } from "@/core/run/checkpoint";
import { effortSettings, lookSettings } from "@/core/plan/fingerprint";
import { EMPTY, type FrameSet, has, setOf, union, unionAll } from "@/core/frames/frame-set";
import { groupFiles } from "@/core/naming/group-files";
import { isExternal } from "@/core/plan/renderer";
import { versionName, frameName } from "@/core/plan/plan";
import { preflight, type NodeReport, type PreflightFacts, type PreflightPoint } from "@/core/run/preflight";
import { pool } from "../db/pool";
import { TallyError } from "../errors";
import { projectFolder } from "../files/paths";
import { LEASE_SECONDS } from "../queue/lease";
import { askAll } from "../queue/ask-nodes";
import { listNodes } from "../store/nodes";
import { listSavedSettings } from "../store/checkpoints";
import { listFiles } from "../store/frame-files";
import type { SequenceRow } from "../store/shots";
import { lightNeed } from "../folder/gathered-light";
import { leftoversAmong, removeLeftover } from "../folder/leftovers";
import type { SequenceState } from "../views/tally";
import { freeBytesOf } from "../files/free-space";
import { versionFolder, sequencePlace } from "../files/layout";
import { prepareRun, type PreparedRun, type DecidedSequence, oneOfEachVersion } from "./prepare-run";
import { printsOf } from "../scenes/prints";
import type { SceneNow } from "../scenes/scene-now";
import { framesDecided, framesKept, picturesDecided } from "@/core/run/decide";
import { mayTake } from "@/core/run/who-takes";
import { leadKey } from "@/core/run/run-tasks";
import type { RunRequest } from "./run-request";
import { guessPassBytes } from "@/core/plan/pass-bytes";

/** All at once; whoever does not answer in time is told as silent. */
async function askNodes(
  sequence: SequenceRow,
  scenes: readonly { readonly scene: SceneNow; readonly renderer: string }[],
  wanted: readonly string[] | null,
): Promise<NodeReport[]> {
  // Those that are named are asked in any case; of a group, and of all, those that are there.
  const asked = (await listNodes(pool())).filter(
    (n) =>
      // Tasks of a batch system come with their frame, and answer nothing before.
      n.machine === null &&
      (wanted?.includes(n.name) === true ||
        (mayTake(wanted, n) && !n.stopped && n.secondsSinceSeen < LEASE_SECONDS)),
  );
  const project = projectFolder(sequence);
  const files = new Map<string, ReadyQuestion["files"][number]>();
  const renderers = new Map<string, string>();
  for (const {
    renderer,
    scene: { file, sources, textures },
  } of scenes) {
    renderers.set(renderer, sources.engine);
    const scene = path.relative(project, file);
    files.set(scene, { path: scene, name: path.basename(scene), content: sources.scene });
    for (const [name, place] of textures)
      files.set(path.relative(project, place), {
        path: path.relative(project, place),
        name,
        content: sources.files[name]!,
      });
  }
  const question: ReadyQuestion = {
    kind: "ready",
    root: sequence.root,
    folder: sequence.folder,
    version: versionFolder(sequence),
    files: [...files.values()],
    renderers: [...renderers].map(([name, engine]) => ({ name, engine })),
  };
  const never = (wanted ?? []).filter((name) => !asked.some((n) => mayTake([name], n)));
  return [...(await askAll(asked, question)), ...never.map((node) => ({ node, answer: null }))];
}

/** Sequences in the folders that are not the plan's, and temporary files that nobody writes any more. */
async function strayFiles(
  decided: readonly DecidedSequence[],
): Promise<Pick<PreflightFacts, "foreign" | "leftovers">> {
  const foreign: { folder: string; names: string[] }[] = [];
  const leftovers: string[] = [];
  const isOfSeveral = oneOfEachVersion(decided.map((d) => d.of)).length > 1;
  for (const {
    of: { sequence, read },
  } of decided) {
    const place = path.join(isOfSeveral ? versionName(sequence) : "", sequence.camera, sequence.pass);
    const names = await fs.readdir(sequencePlace(sequence)).catch(() => []);
    const found = groupFiles(names.map((name) => ({ name, bytes: 0 })));
    const own = (frame: number): string => frameName(read, sequence, frame);
    const others = found.sequences.filter((group) => !group.files.some((f) => f.name === own(f.frame)));
    if (others.length > 0) foreign.push({ folder: place, names: others.map((g) => g.name) });
    for (const { name } of await leftoversAmong(found.leftovers, read, sequence))
      leftovers.push(path.join(place, name));
  }
  return { foreign, leftovers };
}

/**
 * Bytes that the frames will take: by what the sequence's own files take, else by format and size; and their
 * checkpoints.
 */
async function bytesNeeded(decided: readonly DecidedSequence[], nodes: number): Promise<number> {
  let bytes = 0;
  for (const {
    of: { sequence, read },
    decision,
  } of decided) {
    const files = (await listFiles(pool(), sequence.id)).filter((f) => f.verdict === "good");
    const each =
      files.length > 0
        ? files.reduce((sum, f) => sum + f.bytes, 0) / files.length
        : guessPassBytes(read.plan, sequence.pass);
    bytes += each * decision.toRender.count;
  }
  for (const { sequence, read } of oneOfEachVersion(decided.map((d) => d.of))) {
    const frames = unionAll(
      decided.filter((d) => d.of.sequence.versionId === sequence.versionId).map((d) => d.decision.toRender),
    ).count;
    bytes += checkpointStorage(read.plan, frames, nodes);
  }
  return Math.round(bytes);
}

/** Saved samples of the frames to render, and whether the saved plan may go on from them. */
async function savedSamples(decided: readonly DecidedSequence[]): Promise<PreflightFacts["saved"]> {
  let usable = 0;
  const barred = new Map<string, { frames: FrameSet; readonly bar: ResumeBar }>();
  for (const {
    of: {
      sequence,
      read: { plan },
      sources,
    },
  } of decided) {
    // Samples belong to a camera's frame; told once, with its beauty.
    if (sequence.pass !== "beauty" || sources === null) continue;
    const toRender = unionAll(
      decided.filter((d) => leadKey(d.of.sequence) === leadKey(sequence)).map((d) => d.decision.toRender),
    );
    const wanted = {
      look: { ...lookSettings(plan, sources, "beauty"), camera: sequence.camera },
      effort: effortSettings(plan),
      ...sumsOfPlan(plan),
    };
    for (const saved of await listSavedSettings(pool(), sequence.id)) {
      if (!has(toRender, saved.frame)) continue;
      const bar = resumeBar(saved, wanted);
      if (bar === null) usable++;
      else {
        const key = canonicalJson(asJson(bar));
        const known = barred.get(key);
        barred.set(key, { bar, frames: union(known?.frames ?? EMPTY, setOf([saved.frame])) });
      }
    }
  }
  return { usable, barred: [...barred.values()] };
}

/**
 * Frames to render that a person rejected, and whose file has the fingerprints that the next one would have: it
 * would be the same picture. One that was ended by its time limit may come out with other samples.
 */
function sameAgain(decided: readonly DecidedSequence[]): PreflightFacts["sameAgain"] {
  return decided.flatMap(({ of: { sequence, read, sources, files, findings }, decision }) => {
    if (sources === null) return [];
    const { plan } = read;
    const prints = printsOf(plan, sources, sequence);
    const rejected = findings.filter((f) => f.source === "person" && has(decision.toRender, f.frame));
    const reasons = new Map(rejected.map((f) => [f.frame, f.text]));
    const same = files.filter(
      (f) =>
        reasons.has(f.frame) &&
        f.look === prints.look &&
        f.effort === prints.effort &&
        (plan.timeLimit === null || (f.samples ?? 0) >= plan.samples),
    );
    if (same.length === 0) return [];
    return [
      {
        frames: setOf(same.map((f) => f.frame)),
        reasons: [...new Set(same.map((f) => reasons.get(f.frame)!))].sort(),
        nodes: [...new Set(same.flatMap((f) => (f.node === null ? [] : [f.node])))].sort(),
        isStandIn: !isExternal(plan),
      },
    ];
  });
}

/** Good frames that are to have more samples, and of which none are kept: they start from nothing. */
function refinesAfresh(decided: readonly DecidedSequence[]): PreflightFacts["refinesAfresh"] {
  return decided.flatMap(({ of: { sequence, read, files, saved }, decision }) => {
    const refined = decision.render.find((r) => r.reason === "few-samples");
    // Samples are a camera's: told once, with its beauty.
    if (refined === undefined || sequence.pass !== "beauty") return [];
    const kept = new Set(saved.map((s) => s.frame));
    const afresh = files.filter((f) => has(refined.frames, f.frame) && !kept.has(f.frame));
    if (afresh.length === 0) return [];
    const seconds = afresh.map((f) =>
      f.seconds === null || f.samples === null || f.samples === 0
        ? null
        : (f.seconds * read.plan.samples) / f.samples,
    );
    return [
      {
        frames: setOf(afresh.map((f) => f.frame)),
        seconds: seconds.includes(null) ? null : seconds.reduce((sum: number, s) => sum + s!, 0),
        keepsSamples: read.plan.keepSamples,
      },
    ];
  });
}

/** A scene of a renderer's own tells no cameras and lacks none. */
const lacksCamera = ({ cameras }: SceneNow, { read }: SequenceState): boolean =>
  cameras !== null && read.plan.cameras.some((camera) => !cameras.includes(camera));

/** The scene that stops the run, if one of them does; else the first, with the files of all. */
function sceneFact(
  states: readonly SequenceState[],
  scenes: readonly (SceneNow | TallyError)[],
): Pick<PreflightFacts, "scene" | "cameras"> {
  const cameras = [...new Set(states.flatMap((s) => s.read.plan.cameras))];
  const fault = scenes.findIndex((s) => s instanceof TallyError);
  const of = states.length === 1 ? "" : `${versionName(states[Math.max(0, fault)]!.sequence)}: `;
  if (fault >= 0) return { cameras, scene: { fault: `${of}${(scenes[fault] as TallyError).message}` } };
  const read = scenes as readonly SceneNow[];
  const files = new Set(read.flatMap((s) => [s.file, ...s.textures.values()])).size;
  const at = read.findIndex((scene, i) => lacksCamera(scene, states[i]!));
  if (at >= 0)
    return { cameras: states[at]!.read.plan.cameras, scene: { cameras: read[at]!.cameras!, files } };
  return { cameras, scene: { cameras, files } };
}

/** What the first part of the run makes, over all versions and cameras. */
async function lightFact(
  states: readonly SequenceState[],
  scenes: readonly (SceneNow | TallyError)[],
  decided: readonly DecidedSequence[],
): Promise<PreflightFacts["lighting"]> {
  let fact: PreflightFacts["lighting"] = null;
  for (const [
    i,
    {
      sequence,
      read: { plan },
    },
  ] of states.entries()) {
    const scene = scenes[i]!;
    if (
      scene instanceof TallyError ||
      scene.lighting === null ||
      (plan.shading !== "full" && scene.lighting.only !== true)
    )
      continue;
    fact ??= { make: 0, unfit: 0, there: 0, isOnly: false };
    for (const camera of plan.cameras) {
      const frames = unionAll(
        decided
          .filter((d) => leadKey(d.of.sequence) === leadKey({ versionId: sequence.versionId, camera }))
          .map((d) => d.decision.toRender),
      );
      const need = await lightNeed(
        sequence,
        { plan, sources: scene.sources, every: scene.lighting.every },
        camera,
        frames,
      );
      fact = {
        make: fact.make + need.missing.count + need.unfit.count,
        unfit: fact.unfit + need.unfit.count,
        there: fact.there + need.there.count,
        isOnly: fact.isOnly || scene.lighting.only === true,
      };
    }
  }
  return fact;
}

/** By value: several sequences tell the same of one plan. */
const distinctBy = <T extends object>(values: readonly T[]): T[] => [
  ...new Map(values.map((v) => [canonicalJson(asJson(v)), v])).values(),
];

/** What a page shows before a start. */
export const preflightRun = async (request: RunRequest): Promise<readonly PreflightPoint[]> =>
  preflightOf(request, await prepareRun(request));

/**
 * What should be looked at before this run, worst first. It decides nothing anew: it is handed what
 * `prepareRun` decided, so that the page shows the very decision that a start would take.
 * @throws TallyError `sequence-not-planned` where the run covers nothing
 */
export async function preflightOf(
  request: RunRequest,
  { covered, decided, markers }: PreparedRun,
): Promise<readonly PreflightPoint[]> {
  const states = oneOfEachVersion(decided.map((d) => d.of));
  const [focus] = states;
  if (focus === undefined) throw new TallyError("sequence-not-planned");
  const scenes = states.map((s) => covered.find((c) => c.versionId === s.sequence.versionId)!.scene);
  const follows = states.map(({ sequence, read }, i) =>
    consequencesOf(read, {
      namedProject: sequence.namedProject,
      namedShot: sequence.namedShot,
      version: sequence.version,
      purpose: sequence.purpose,
      markers,
      files: EMPTY,
      sceneRate: scenes[i] instanceof TallyError ? null : scenes[i]!.rate,
    }),
  );
  const sum = (count: (d: DecidedSequence) => number): number =>
    decided.reduce((all, d) => all + count(d), 0);
  const nodes =
    request.shares !== undefined
      ? null
      : await askNodes(
          focus.sequence,
          states.flatMap(({ read }, i) => {
            const scene = scenes[i]!;
            return scene instanceof TallyError ? [] : [{ scene, renderer: read.plan.renderer }];
          }),
          request.nodes,
        );
  return preflight({
    ...sceneFact(states, scenes),
    passes: [...new Set(decided.map((d) => d.of.sequence.pass))],
    nodes,
    hazards: distinctBy(follows.flatMap((f) => f.hazards)),
    notes: distinctBy(follows.flatMap((f) => f.notes)),
    policy: request.policy,
    lighting: await lightFact(states, scenes, decided),
    versions: states.map(({ sequence }) => {
      const own = decided.filter((d) => d.of.sequence.versionId === sequence.versionId);
      return {
        version: versionName(sequence),
        frames: unionAll(own.map((d) => d.decision.toRender)),
        count: framesDecided(own, (of) => leadKey(of.sequence)),
      };
    }),
    render: framesDecided(decided, (of) => leadKey(of.sequence)),
    pictures: picturesDecided(decided),
    keep: framesKept(decided, (of) => leadKey(of.sequence)),
    replaceGood: sum((d) =>
      d.decision.render.filter((r) => r.reason === "good").reduce((n, r) => n + r.frames.count, 0),
    ),
    needBytes: await bytesNeeded(decided, nodes?.length ?? 0),
    freeBytes: await freeBytesOf(focus.sequence),
    // In a version of its own there are neither files nor samples yet.
    ...(await strayFiles(request.inNextVersion === true ? [] : decided)),
    saved: await savedSamples(request.inNextVersion === true ? [] : decided),
    sameAgain: sameAgain(decided),
    refinesAfresh: refinesAfresh(decided),
  });
}

/** Removes temporary files that the preflight named: those of attempts that have ended, and no others. */
export async function removeLeftovers(request: RunRequest): Promise<{ readonly removed: number }> {
  const { decided } = await prepareRun(request);
  let removed = 0;
  for (const { of } of decided) {
    const names = await fs.readdir(sequencePlace(of.sequence)).catch(() => []);
    for (const leftover of await leftoversAmong(names, of.read, of.sequence))
      if (await removeLeftover(of.sequence, leftover)) removed++;
  }
  return { removed };
}
