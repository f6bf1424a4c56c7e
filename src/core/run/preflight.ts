/**
 * The list before a start: each point with its verdict. `stop` keeps the run from starting, `ask`
 * wants a person's yes, `fine` says that it was looked at. Data; wording and mends live in the interface.
 */
import type { NameHazard } from "../naming/hazards";
import type { ResumeBar } from "./checkpoint";
import type { FrameSet } from "../frames/frame-set";
import { formatPhrase } from "../frames/phrase";
import type { PlanNote } from "../plan/notes";
import type { Pass } from "../plan/passes";
import type { Policy } from "./what-to-render";

const VERDICTS = ["stop", "ask", "fine"] as const;
/** What a point means for the start. */
export type Verdict = (typeof VERDICTS)[number];

export type PreflightPoint =
  | { readonly code: "nodes-ready"; readonly nodes: readonly string[]; readonly files: number }
  | { readonly code: "no-node" }
  | { readonly code: "node-silent"; readonly node: string }
  | { readonly code: "node-cannot-write"; readonly node: string; readonly reason: string }
  | { readonly code: "node-lacks-files"; readonly node: string; readonly files: readonly string[] }
  | { readonly code: "node-sees-other-files"; readonly node: string; readonly files: readonly string[] }
  | { readonly code: "node-lacks-renderer"; readonly node: string; readonly reasons: readonly string[] }
  | { readonly code: "scene-unreadable"; readonly reason: string }
  | {
      readonly code: "camera-missing";
      /** That the plan asks for and the scene does not have. */
      readonly cameras: readonly string[];
      /** That the scene has. */
      readonly known: readonly string[];
    }
  | { readonly code: "space"; readonly need: number; readonly free: number }
  | { readonly code: "space-short"; readonly need: number; readonly free: number }
  | { readonly code: "hazard"; readonly hazard: NameHazard }
  | { readonly code: "names" }
  | { readonly code: "note"; readonly note: PlanNote }
  | {
      readonly code: "frames";
      /** Frames: each is rendered once, whatever passes it writes. */
      readonly render: number;
      readonly pictures: number;
      readonly keep: number;
      /** Good ones that would be rendered again. */
      readonly replaceGood: number;
      readonly policy: Policy;
    }
  /** What a run over several versions renders of each. @property frames as a phrase */
  | {
      readonly code: "versions";
      readonly versions: readonly {
        readonly version: string;
        /** As a phrase. */
        readonly frames: string;
        readonly count: number;
      }[];
    }
  /**
   * The gathered light that the scene asks for: what is made first, and what is there. @property unfit made
   * from another scene or plan, or damaged
   */
  | { readonly code: "lighting"; readonly make: number; readonly unfit: number; readonly there: number }
  /** The scene says that only its light is gathered. */
  | { readonly code: "writes-no-pictures" }
  | { readonly code: "nothing-to-render" }
  | { readonly code: "passes"; readonly cameras: readonly string[]; readonly passes: readonly Pass[] }
  | { readonly code: "foreign-files"; readonly folder: string; readonly names: readonly string[] }
  | { readonly code: "leftovers"; readonly files: readonly string[] }
  /** Frames that go on from saved samples. */
  | { readonly code: "goes-on"; readonly frames: number }
  | ({ readonly code: "same-again" } & Omit<SameAgain, "frames"> & PhraseOfFrames)
  | ({ readonly code: "refines-afresh" } & Omit<RefinesAfresh, "frames"> & PhraseOfFrames)
  /**
   * Frames whose saved samples cannot be used any more: they would start over. @property frames as a phrase
   */
  | {
      readonly code: "starts-over";
      readonly frames: string;
      readonly count: number;
      /** What keeps them from going on. */
      readonly bar: ResumeBar;
    };

interface PhraseOfFrames {
  /** As a phrase. */
  readonly frames: string;
  readonly count: number;
}

/** Frames that a person rejected, of which nothing that decides the picture has changed since. */
export interface SameAgain {
  readonly frames: FrameSet;
  /** What was said of them, each once. */
  readonly reasons: readonly string[];
  /** Who made them. */
  readonly nodes: readonly string[];
  /** Only the stand-in is known to make the same picture wherever it runs. */
  readonly isStandIn: boolean;
}

/** Frames to refine of which no samples are kept. */
export interface RefinesAfresh {
  readonly frames: FrameSet;
  /** On one node, from what they took before and how many samples they have now; null where that is not known. */
  readonly seconds: number | null;
  /** Whether the plan keeps samples by now, so that the next refining goes on. */
  readonly keepsSamples: boolean;
}

const asPhrase = <T extends { readonly frames: FrameSet }>(point: T): Omit<T, "frames"> & PhraseOfFrames => ({
  ...point,
  frames: formatPhrase(point.frames),
  count: point.frames.count,
});

/** Starting would make wrong frames, or none. */
const STOPS: readonly PreflightPoint["code"][] = [
  "node-cannot-write",
  "node-lacks-files",
  "node-sees-other-files",
  "node-lacks-renderer",
  "scene-unreadable",
  "camera-missing",
  "space-short",
  "writes-no-pictures",
  "nothing-to-render",
];
/** What was looked at and is in order: told in one line. */
const FINE: readonly PreflightPoint["code"][] = [
  "goes-on",
  "nodes-ready",
  "space",
  "names",
  "frames",
  "versions",
  "lighting",
  "passes",
];

/** What a point means for the start. */
export function verdictOf(point: PreflightPoint): Verdict {
  if (point.code === "frames") return point.replaceGood > 0 ? "ask" : "fine";
  return STOPS.includes(point.code) ? "stop" : FINE.includes(point.code) ? "fine" : "ask";
}

/** What a node said, or that it said nothing. */
export interface NodeReport {
  readonly node: string;
  /** null: it did not answer in time. */
  readonly answer: {
    /** What the system says; null where it can. */
    readonly cannotWrite: string | null;
    readonly missing: readonly string[];
    readonly different: readonly string[];
    /** What keeps it from rendering, a clause each. */
    readonly renderers: readonly string[];
  } | null;
}

export interface PreflightFacts {
  /** Of the plan. */
  readonly cameras: readonly string[];
  readonly passes: readonly Pass[];
  /** Cameras of the scene, or why it cannot be read. */
  readonly scene:
    { readonly cameras: readonly string[]; readonly files: number } | { readonly fault: string };
  /** null: none takes part, the frames are handed out. */
  readonly nodes: readonly NodeReport[] | null;
  /** Of the files' names. */
  readonly hazards: readonly NameHazard[];
  readonly notes: readonly PlanNote[];
  readonly policy: Policy;
  /** The gathered light that the scene asks for; null where it asks for none. */
  readonly lighting: {
    /** Gatherings that the frames lack. */
    readonly make: number;
    /** Of those, made from another scene or plan. */
    readonly unfit: number;
    readonly there: number;
    /** The scene says that no pictures shall be made. */
    readonly isOnly: boolean;
  } | null;
  /** Frames to render of each version that the run covers. */
  readonly versions: readonly {
    readonly version: string;
    readonly frames: FrameSet;
    /** Of all its cameras. */
    readonly count: number;
  }[];
  /** Frames: each is rendered once, whatever passes it writes. */
  readonly render: number;
  readonly pictures: number;
  /** Frames of which nothing is made anew. */
  readonly keep: number;
  readonly replaceGood: number;
  /** Of files and saved samples together. */
  readonly needBytes: number;
  /** Null where the disk cannot be asked. */
  readonly freeBytes: number | null;
  /** Other sequences in a folder of ours. */
  readonly foreign: readonly { readonly folder: string; readonly names: readonly string[] }[];
  /** Temporary files, by name. */
  readonly leftovers: readonly string[];
  /** By sequence; of frames to render alone. */
  readonly sameAgain: readonly SameAgain[];
  /** By camera; of frames to render alone. */
  readonly refinesAfresh: readonly RefinesAfresh[];
  /**
   * Frames to render that have saved samples: how many can use them, and which cannot, by what keeps them
   * from it.
   */
  readonly saved: {
    /** Frames that go on from saved samples. */
    readonly usable: number;
    readonly barred: readonly { readonly frames: FrameSet; readonly bar: ResumeBar }[];
  };
}

/** All points, those that stop first. */
export function preflight(facts: PreflightFacts): PreflightPoint[] {
  const points: PreflightPoint[] = [];
  if ("fault" in facts.scene) points.push({ code: "scene-unreadable", reason: facts.scene.fault });
  else {
    const { cameras: known } = facts.scene;
    const gone = facts.cameras.filter((camera) => !known.includes(camera));
    if (gone.length > 0) points.push({ code: "camera-missing", cameras: gone, known });
  }
  points.push({ code: "passes", cameras: facts.cameras, passes: facts.passes });
  const ready: string[] = [];
  for (const { node, answer } of facts.nodes ?? []) {
    if (answer === null) points.push({ code: "node-silent", node });
    else {
      if (answer.cannotWrite !== null)
        points.push({ code: "node-cannot-write", node, reason: answer.cannotWrite });
      if (answer.missing.length > 0) points.push({ code: "node-lacks-files", node, files: answer.missing });
      if (answer.different.length > 0)
        points.push({ code: "node-sees-other-files", node, files: answer.different });
      if (answer.renderers.length > 0)
        points.push({ code: "node-lacks-renderer", node, reasons: answer.renderers });
      const lacks = answer.missing.length + answer.different.length + answer.renderers.length;
      if (answer.cannotWrite === null && lacks === 0) ready.push(node);
    }
  }
  if (facts.nodes?.length === 0) points.push({ code: "no-node" });
  if (ready.length > 0)
    points.push({ code: "nodes-ready", nodes: ready, files: "fault" in facts.scene ? 0 : facts.scene.files });
  if (facts.freeBytes !== null)
    points.push({
      code: facts.needBytes > facts.freeBytes ? "space-short" : "space",
      need: facts.needBytes,
      free: facts.freeBytes,
    });
  for (const hazard of facts.hazards) points.push({ code: "hazard", hazard });
  if (facts.hazards.length === 0) points.push({ code: "names" });
  for (const note of facts.notes) points.push({ code: "note", note });
  points.push(
    facts.render === 0
      ? { code: "nothing-to-render" }
      : {
          code: "frames",
          render: facts.render,
          pictures: facts.pictures,
          keep: facts.keep,
          replaceGood: facts.replaceGood,
          policy: facts.policy,
        },
  );
  if (facts.lighting !== null)
    points.push(
      facts.lighting.isOnly
        ? { code: "writes-no-pictures" }
        : {
            code: "lighting",
            make: facts.lighting.make,
            unfit: facts.lighting.unfit,
            there: facts.lighting.there,
          },
    );
  if (facts.versions.length > 1)
    points.push({
      code: "versions",
      versions: facts.versions.map(({ version, frames, count }) => ({
        version,
        frames: formatPhrase(frames),
        count,
      })),
    });
  for (const foreign of facts.foreign) points.push({ code: "foreign-files", ...foreign });
  if (facts.leftovers.length > 0) points.push({ code: "leftovers", files: facts.leftovers });
  for (const same of facts.sameAgain) points.push({ code: "same-again", ...asPhrase(same) });
  for (const afresh of facts.refinesAfresh) points.push({ code: "refines-afresh", ...asPhrase(afresh) });
  if (facts.saved.usable > 0) points.push({ code: "goes-on", frames: facts.saved.usable });
  for (const { frames, bar } of facts.saved.barred)
    points.push({ code: "starts-over", frames: formatPhrase(frames), count: frames.count, bar });
  const rank = (point: PreflightPoint): number => VERDICTS.indexOf(verdictOf(point));
  return points.sort((a, b) => rank(a) - rank(b));
}
