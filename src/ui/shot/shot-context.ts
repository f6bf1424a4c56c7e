/** What every part of the shot page shares: the shot, its tally, what is selected, what is looked at. */
import { createContext, useContext } from "react";
import type { ShotView } from "@/contract/shot-view";
import type { FrameSet } from "@/core/frames/frame-set";
import type { NameResolver } from "@/core/frames/phrase";
import type { Tally, TallyCounts } from "@/core/tally/tally";
import type { FilesByFrame } from "../live/files-by-frame";
import type { HeldByFrame } from "../live/held-by-frame";
import type { PlanDraft } from "./use-plan-draft";
import type { Selection } from "./use-selection";
import type { SequenceView } from "@/contract/sequence-view";

export const BENCHES = ["plan", "prove", "run", "check", "patch"] as const;
export type BenchName = (typeof BENCHES)[number];

export interface ShotWork {
  readonly shot: ShotView;
  readonly view: SequenceView;
  readonly tally: Tally;
  readonly counts: TallyCounts;
  readonly files: FilesByFrame;
  /** Saved samples of the camera's frames. */
  readonly held: HeldByFrame;
  readonly names: NameResolver;
  /** File numbers of each marker. */
  readonly stretches: Readonly<Record<string, FrameSet>>;
  /** File numbers that the edit uses; null while no edit is known. */
  readonly used: FrameSet | null;
  readonly selection: Selection;
  readonly focus: number | null;
  readonly setFocus: (frame: number) => void;
  readonly bench: BenchName;
  readonly openBench: (bench: BenchName) => void;
  /** Opens the viewer at a frame; with a last one it plays the frames between. */
  readonly look: (frame: number, last?: number) => void;
  readonly draft: PlanDraft;
  /** Shows another sequence of the shot; what is left out is as the plan has it first. */
  readonly openSequence: (wanted: {
    readonly version?: string;
    readonly camera?: string;
    readonly pass?: string;
  }) => void;
}

const Context = createContext<ShotWork | null>(null);
export const ShotWorkProvider = Context.Provider;

export function useShotWork(): ShotWork {
  const work = useContext(Context);
  if (work === null) throw new Error("A part of the shot page stands outside of it.");
  return work;
}
