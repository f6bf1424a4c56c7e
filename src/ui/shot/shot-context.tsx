"use client";
/**
 * What the parts of the shot page share, in three: what the person works with, which changes when
 * somebody acts; the sequence as it is now, which changes with every frame that is made; and what is
 * pointed at. A part is drawn anew only by what it reads.
 */
import { createContext, type ReactNode, useContext, useState } from "react";
import type { SequenceView } from "@/contract/sequence-view";
import type { ShotView } from "@/contract/shot-view";
import type { FrameSet } from "@/core/frames/frame-set";
import type { NameResolver } from "@/core/frames/phrase";
import type { Tally, TallyCounts } from "@/core/tally/tally";
import type { FilesByFrame } from "../live/files-by-frame";
import type { SavedByFrame } from "../live/saved-by-frame";
import type { PlanDraft } from "./use-plan-draft";
import type { Selection } from "./use-selection";

/** In the order of the work; keys 1 to 6 open them. */
export const BENCHES = ["plan", "prove", "run", "check", "patch", "handover"] as const;
/** As it stands in the address. */
export type BenchName = (typeof BENCHES)[number];

export interface ShotWork {
  /** As the server last told it, with the saved plan. */
  readonly shot: ShotView;
  /** File numbers of each marker. */
  readonly stretches: Readonly<Record<string, FrameSet>>;
  /** File numbers that the edit uses; null while no edit is known. */
  readonly used: FrameSet | null;
  /** The plan with what was changed on top. */
  readonly draft: PlanDraft;
  /** The one that is open. */
  readonly bench: BenchName;
  readonly openBench: (bench: BenchName) => void;
  /** The frame that is looked at from now on. */
  readonly setFocus: (frame: number) => void;
  /** Opens the viewer at a frame; with a last one it plays the frames between. */
  readonly look: (frame: number, last?: number) => void;
  /** Shows another sequence of the shot; what is left out is as the plan has it first. */
  readonly openSequence: (wanted: {
    readonly version?: string;
    readonly camera?: string;
    readonly pass?: string;
  }) => void;
}

export interface SequenceNow {
  /** As the server told it, with every change since. */
  readonly view: SequenceView;
  /** Results and activities as sets. */
  readonly tally: Tally;
  /** How many frames each has. */
  readonly counts: TallyCounts;
  /** Measures of files, by frame. */
  readonly files: FilesByFrame;
  /** Saved samples of the camera's frames. */
  readonly saved: SavedByFrame;
  /** What a phrase may call by name here. */
  readonly names: NameResolver;
}

export interface Pointed {
  /** Frames that something is to be done with. */
  readonly selection: Selection;
  /** The one frame that is looked at; null before anything was pointed at. */
  readonly focus: number | null;
}

const WorkContext = createContext<ShotWork | null>(null);
const NowContext = createContext<SequenceNow | null>(null);
const PointedContext = createContext<Pointed | null>(null);

/** Contexts begin as null, so that a part that stands outside fails at once. */
function inside<T>(value: T | null): T {
  if (value === null) throw new Error("A part of the shot page stands outside of it.");
  return value;
}
/** What somebody works with. Draws anew when somebody acts. */
export const useShotWork = (): ShotWork => inside(useContext(WorkContext));
/** The sequence as it is now. Draws anew with each change of its frames. */
export const useSequenceNow = (): SequenceNow => inside(useContext(NowContext));
/** Selection and focus. Draws anew as they move. */
export const usePointed = (): Pointed => inside(useContext(PointedContext));

export interface ShotParts {
  readonly work: ShotWork;
  readonly now: SequenceNow;
  readonly pointed: Pointed;
}

/** @param props.work and the others: the same objects as long as nothing in them has changed */
export function ShotProvider({ work, now, pointed, children }: ShotParts & { readonly children: ReactNode }) {
  return (
    <WorkContext.Provider value={work}>
      <NowContext.Provider value={now}>
        <PointedContext.Provider value={pointed}>{children}</PointedContext.Provider>
      </NowContext.Provider>
    </WorkContext.Provider>
  );
}

/**
 * What is inside stays as it was while it is not shown: frames that are made meanwhile cost it nothing.
 * What the person works with is always as it is, also which bench is open.
 */
export function WhileShown({
  isShown,
  children,
}: {
  readonly isShown: boolean;
  readonly children: ReactNode;
}) {
  const work = useShotWork();
  const fresh = { now: useSequenceNow(), pointed: usePointed() };
  const [seen, setSeen] = useState(fresh);
  if (isShown && (seen.now !== fresh.now || seen.pointed !== fresh.pointed)) setSeen(fresh);
  return (
    <ShotProvider work={work} {...(isShown ? fresh : seen)}>
      {children}
    </ShotProvider>
  );
}
