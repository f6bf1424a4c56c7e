/** What every part of the shot page shares: the shot, its tally, what is selected, what is looked at. */
import { createContext, useContext } from "react";
import type { UseFormReturn } from "react-hook-form";
import type { SequenceView, ShotView } from "@/contract/api";
import type { NameResolver } from "@/core/frames/phrase";
import type { Plan } from "@/core/plan/plan";
import type { Tally, TallyCounts } from "@/core/tally/tally";
import type { FilesByFrame } from "../live/files-by-frame";
import type { Selection } from "./use-selection";

export const BENCHES = ["plan", "run", "check", "patch"] as const;
export type BenchName = (typeof BENCHES)[number];

export interface ShotWork {
  readonly shot: ShotView;
  readonly view: SequenceView;
  readonly tally: Tally;
  readonly counts: TallyCounts;
  readonly files: FilesByFrame;
  readonly names: NameResolver;
  readonly selection: Selection;
  readonly focus: number | null;
  readonly setFocus: (frame: number) => void;
  readonly bench: BenchName;
  readonly openBench: (bench: BenchName) => void;
  readonly look: (frame: number) => void;
  /** The plan as it is being edited; dirty when it differs from the saved revision. */
  readonly draft: UseFormReturn<Plan>;
  readonly savePlan: () => Promise<void>;
  /** Why the last save was refused, beyond what stands at the fields. */
  readonly saveTrouble: { readonly code: string; readonly message: string } | null;
  /** Shows another version; null is the newest. */
  readonly openVersion: (version: number | null, camera: string | null) => void;
}

const Context = createContext<ShotWork | null>(null);
export const ShotWorkProvider = Context.Provider;

export function useShotWork(): ShotWork {
  const work = useContext(Context);
  if (work === null) throw new Error("A part of the shot page stands outside of it.");
  return work;
}
